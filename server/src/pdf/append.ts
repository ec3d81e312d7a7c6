import type { PDFDocument, PDFObject, PDFRef } from '@cantoo/pdf-lib';
import { openPdf, savePdf } from './pdf.ts';
import { putText } from './written.ts';

/** How far from the end of a file its last cross-reference is named (ISO 32000-1, 7.5.5; readers look so far). */
const TAIL = 2048;

/** The last cross-reference of a file: where it is, and whether it is a stream or a table. */
interface Tail {
  readonly startXref: number;
  readonly asStream: boolean;
  readonly size: number;
}

/** Null where it is not where the file says: junk before the header or behind the end, which readers forgive. */
function tailOf(bytes: Uint8Array): Tail | null {
  const latin = (from: number, to: number) => Buffer.from(bytes.subarray(from, to)).toString('latin1');
  const named = /startxref\s+(\d+)\s+%%EOF\s*$/.exec(latin(Math.max(0, bytes.length - TAIL), bytes.length));
  if (!named) return null;
  const startXref = Number(named[1]);
  const there = latin(startXref, startXref + 20);
  const asStream = /^\s*\d+ \d+ obj/.test(there);
  if (!asStream && !/^\s*xref\s/.test(there)) return null;
  const size = Number(/\/Size\s+(\d+)/.exec(latin(startXref, bytes.length))?.[1] ?? 0);
  return { startXref, asStream, size };
}

/**
 * A document to which something is appended while its own bytes stay as they came, to the last one: an incremental update
 * (ISO 32000-1, 7.5.6). New objects are kept by themselves; of the old ones those that are named by `changed`. A file that
 * cannot be appended to is written anew, whole.
 */
export class Appending {
  readonly pdf: PDFDocument;
  readonly #bytes: Uint8Array;
  readonly #tail: Tail | null;
  readonly #last: number;
  readonly #changed = new Set<PDFRef>();

  private constructor(pdf: PDFDocument, bytes: Uint8Array, tail: Tail | null) {
    this.pdf = pdf;
    this.#bytes = bytes;
    this.#tail = tail;
    this.#last = pdf.context.largestObjectNumber;
  }

  /** Opens bytes that qpdf has passed. */
  static async open(bytes: Uint8Array): Promise<Appending> {
    const pdf = await openPdf(bytes);
    const tail = tailOf(bytes);
    // Numbers that the file itself may use for what pdf-lib does not keep, such as object streams, must not be given again.
    if (tail) pdf.context.largestObjectNumber = Math.max(pdf.context.largestObjectNumber, tail.size - 1);
    return new Appending(pdf, bytes, tail);
  }

  /** An object of the file that is another now. */
  changed(ref: PDFRef): void {
    this.#changed.add(ref);
  }

  /** The bytes as they came, and behind them what is new. */
  async save(): Promise<Uint8Array> {
    const tail = this.#tail;
    if (!tail) return savePdf(this.pdf);
    await this.pdf.flush();
    const out = new Growing(this.#bytes);
    const places: { number: number; generation: number; at: number }[] = [];
    for (const [ref, object] of this.pdf.context.enumerateIndirectObjects()) {
      if (ref.objectNumber <= this.#last && !this.#changed.has(ref)) continue;
      places.push({ number: ref.objectNumber, generation: ref.generationNumber, at: out.length });
      out.text(`${ref.objectNumber} ${ref.generationNumber} obj\n`);
      out.object(object);
      out.text('\nendobj\n');
    }
    places.sort((a, b) => a.number - b.number);
    const at = out.length;
    if (tail.asStream) this.#crossReferenceStream(out, places, tail);
    else this.#crossReferenceTable(out, places, tail);
    out.text(`startxref\n${at}\n%%EOF\n`);
    return out.bytes();
  }

  #trailer(size: number, { startXref }: Tail): string {
    const { Root, Info, ID } = this.pdf.context.trailerInfo;
    const entry = (name: string, value: PDFObject | undefined) => (value ? `/${name} ${value} ` : '');
    return `/Size ${size} ${entry('Root', Root)}${entry('Info', Info)}${entry('ID', ID)}/Prev ${startXref}`;
  }

  #crossReferenceTable(out: Growing, places: readonly Place[], tail: Tail): void {
    out.text('xref\n');
    for (const run of runs(places)) {
      out.text(`${run[0]!.number} ${run.length}\n`);
      for (const p of run)
        out.text(`${String(p.at).padStart(10, '0')} ${String(p.generation).padStart(5, '0')} n \n`);
    }
    out.text(`trailer\n<< ${this.#trailer(this.pdf.context.largestObjectNumber + 1, tail)} >>\n`);
  }

  /** A file whose cross-references are streams goes on with one (7.5.8): type, offset and generation in 1, 4 and 2 bytes. */
  #crossReferenceStream(out: Growing, places: readonly Place[], tail: Tail): void {
    const own: Place = { number: this.pdf.context.largestObjectNumber + 1, generation: 0, at: out.length };
    const all = [...places, own];
    const table = Buffer.alloc(all.length * 7);
    all.forEach((p, i) => {
      table.writeUInt8(1, i * 7);
      table.writeUInt32BE(p.at, i * 7 + 1);
      table.writeUInt16BE(p.generation, i * 7 + 5);
    });
    const index = runs(all).map((run) => `${run[0]!.number} ${run.length}`);
    out.text(
      `${own.number} 0 obj\n<< /Type /XRef /W [1 4 2] /Index [${index.join(' ')}] /Length ${table.length} ${this.#trailer(own.number + 1, tail)} >>\nstream\n`,
    );
    out.raw(table);
    out.text('\nendstream\nendobj\n');
  }
}

interface Place {
  readonly number: number;
  readonly generation: number;
  readonly at: number;
}

/** Places in runs of numbers that follow one another. */
function runs(places: readonly Place[]): Place[][] {
  const out: Place[][] = [];
  for (const p of places) {
    const last = out.at(-1);
    if (last && last.at(-1)!.number + 1 === p.number) last.push(p);
    else out.push([p]);
  }
  return out;
}

/** Bytes that grow at their end. */
class Growing {
  #buffer: Uint8Array;
  #length: number;

  constructor(start: Uint8Array) {
    this.#buffer = new Uint8Array(start.length + 65_536);
    this.#buffer.set(start);
    this.#length = start.length;
    // What is appended begins on a line of its own.
    if (start.at(-1) !== 10) this.text('\n');
  }

  get length(): number {
    return this.#length;
  }

  #room(more: number): void {
    if (this.#length + more <= this.#buffer.length) return;
    const next = new Uint8Array(Math.max(this.#buffer.length * 2, this.#length + more));
    next.set(this.#buffer.subarray(0, this.#length));
    this.#buffer = next;
  }

  /** Letters of ASCII. */
  text(ascii: string): void {
    this.#room(ascii.length);
    this.#length += putText(ascii, this.#buffer, this.#length);
  }

  raw(bytes: Uint8Array): void {
    this.#room(bytes.length);
    this.#buffer.set(bytes, this.#length);
    this.#length += bytes.length;
  }

  object(object: PDFObject): void {
    const size = object.sizeInBytes();
    this.#room(size);
    this.#length += object.copyBytesInto(this.#buffer, this.#length);
  }

  bytes(): Uint8Array {
    return this.#buffer.slice(0, this.#length);
  }
}
