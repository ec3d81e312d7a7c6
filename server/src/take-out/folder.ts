import { createReadStream, createWriteStream } from 'node:fs';
import type { Readable } from 'node:stream';
import { finished } from 'node:stream/promises';
import { gridLines, type OutGrid, writeCsv } from '@jotmark/core';
import { ZipArchive } from 'archiver';
import { folderName } from '../blobs/file-name.ts';

/** Keeps names apart: of two that are the same the second is called "… 2". Names are held against each other as file systems do, without regard to case. */
export class Names {
  readonly #used = new Set<string>();

  take(path: string): string {
    const dot = /\.[A-Za-z0-9]{1,5}$/.exec(path)?.[0] ?? '';
    const bare = path.slice(0, path.length - dot.length);
    for (let n = 1; ; n++) {
      const name = n === 1 ? path : `${bare} ${n}${dot}`;
      const key = name.normalize('NFC').toLocaleLowerCase('en');
      if (this.#used.has(key)) continue;
      this.#used.add(key);
      return name;
    }
  }
}

/** A zip that grows file by file, in named folders; what is put into it is not kept in memory. */
export class ZipFolder {
  readonly #zip = new ZipArchive({ zlib: { level: 1 } });
  readonly #names = new Names();
  readonly #ended: Promise<void>;
  #failed: unknown = null;

  constructor(path: string) {
    const out = createWriteStream(path);
    this.#zip.pipe(out);
    this.#ended = finished(out);
    // Heard of where the next file is put in, or at the end.
    this.#ended.catch((error) => {
      this.#failed = error;
    });
    this.#zip.on('error', (error) => {
      this.#failed = error;
      out.destroy(error);
    });
  }

  /** Puts a file into a folder. Gives the path under which it lies there. */
  async add(folders: readonly string[], name: string, what: Readable | Buffer | string): Promise<string> {
    if (this.#failed) throw this.#failed;
    const path = this.#names.take([...folders, name].map(folderName).join('/'));
    const data = typeof what === 'string' ? createReadStream(what) : what;
    const entered = new Promise<void>((resolve, reject) => {
      this.#zip.once('entry', () => resolve());
      this.#ended.catch(reject);
    });
    this.#zip.append(data, { name: path });
    await entered;
    return path;
  }

  async addTable(folders: readonly string[], name: string, grid: OutGrid): Promise<void> {
    await this.add(folders, name, Buffer.from(writeCsv(gridLines(grid)), 'utf8'));
  }

  async end(): Promise<void> {
    if (this.#failed) throw this.#failed;
    await Promise.all([this.#zip.finalize(), this.#ended]);
  }
}
