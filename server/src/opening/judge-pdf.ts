import { open, stat } from 'node:fs/promises';
import { FILE_LIMITS } from '@jotmark/core';
import type * as z from 'zod';
import { Fault } from '../fault.ts';
import { type Opener, TaskFailed } from './opener.ts';
import { Looked } from './task.ts';
import { qpdf } from '../programs/qpdf.ts';

/**
 * Decides by content whether an uploaded file is taken, cheapest question first: size, first bytes, qpdf's check, password;
 * then an owner's password is taken off or a slip in the file's structure mended, and pages counted and measured.
 * `mended` holds what is to be opened afterwards: the file as it came, or its mended form beside it.
 */
export async function judgePdf(
  opener: Opener,
  path: string,
  name: string,
): Promise<{ pages: number; mended: string }> {
  const { size } = await stat(path);
  if (size === 0) throw new Fault('file-empty', { name });
  if (size > FILE_LIMITS.bytes) throw new Fault('file-too-big', { name, most: FILE_LIMITS.bytes });
  if (!(await startsAsPdf(path))) throw new Fault('file-not-pdf', { name });

  // 0: a password is needed, 2: not encrypted (or unreadable, which the check then says), 3: encrypted but open to all.
  const password = await ran(['--requires-password', path], name);
  if (password === 0) throw new Fault('file-password', { name });
  const check = await ran(['--check', path], name);
  if (check !== 0 && check !== 3) throw new Fault('file-damaged', { name });

  let mended = path;
  if (password === 3 || check === 3) {
    mended = `${path}.mended`;
    const code = await ran(['--decrypt', path, mended], name);
    if (code !== 0 && code !== 3) throw new Fault('file-damaged', { name });
  }
  const looked = await look(opener, mended, name);
  if (looked.pages === 0) throw new Fault('file-damaged', { name });
  if (looked.longestSide > FILE_LIMITS.side)
    throw new Fault('file-page-too-big', { name, most: FILE_LIMITS.side });
  return { pages: looked.pages, mended };
}

async function look(opener: Opener, path: string, name: string): Promise<z.infer<typeof Looked>> {
  // Counted by qpdf first: five thousand pages are not worth opening.
  const { code, out } = await qpdf(['--show-npages', path]);
  const pages = Number.parseInt(out, 10);
  if (code === null) throw new Fault('file-slow', { name });
  if (pages > FILE_LIMITS.pages)
    throw new Fault('file-too-many-pages', { name, pages, most: FILE_LIMITS.pages });
  try {
    return Looked.parse(await opener.run({ op: 'look', file: path }));
  } catch (error) {
    if (error instanceof TaskFailed)
      throw new Fault(error.reason === 'broken' ? 'file-damaged' : 'file-slow', { name });
    throw error;
  }
}

async function ran(args: readonly string[], name: string): Promise<number> {
  const { code } = await qpdf(args);
  if (code === null) throw new Fault('file-slow', { name });
  return code;
}

/** The header may stand anywhere in the first kilobyte (ISO 32000-1, Annex H, note 13). */
async function startsAsPdf(path: string): Promise<boolean> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(1024), 0, 1024, 0);
    return buffer.subarray(0, bytesRead).includes('%PDF-');
  } finally {
    await file.close();
  }
}
