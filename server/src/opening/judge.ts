import { stat } from 'node:fs/promises';
import { FILE_LIMITS, MOST_PIXELS_OF_A_PICTURE, type NoPages, type Shows } from '@jotmark/core';
import sharp from 'sharp';
import { Fault } from '../fault.ts';
import type { Opener } from './opener.ts';
import { judgePdf } from './judge-pdf.ts';
import { kindOf } from './kind.ts';

/** What is known of an uploaded file before anything has opened it. */
export interface Judged {
  readonly type: string;
  readonly shows: Shows;
  readonly trouble: NoPages | null;
  /** Pages of a PDF; 1 for a picture; 0 while it is not known. */
  readonly pages: number;
  /** The PDF to open, where the file is one already. */
  readonly pdf: string | null;
}

/**
 * Takes any file and says what can be shown of it. PDFs go through `judgePdf`; pictures are measured by their header only; office
 * documents become pages in a job. What cannot become pages is taken all the same, with the reason: it is kept and can
 * be scored. Throws for what is empty, too big, damaged or made to choke us.
 */
export async function judgeAny(opener: Opener, path: string, name: string): Promise<Judged> {
  const { size } = await stat(path);
  if (size === 0) throw new Fault('file-empty', { name });
  if (size > FILE_LIMITS.bytes) throw new Fault('file-too-big', { name, most: FILE_LIMITS.bytes });
  const kind = await kindOf(path, name);
  const { type } = kind;
  switch (kind.family) {
    case 'pdf': {
      const { pages, mended } = await judgePdf(opener, path, name);
      return { type, shows: 'pages', trouble: null, pages, pdf: mended };
    }
    case 'picture':
      await measurePicture(path, name);
      return { type, shows: 'pages', trouble: null, pages: 1, pdf: null };
    case 'office':
      return { type, shows: 'pages', trouble: null, pages: 0, pdf: null };
    case 'sound':
    case 'film':
      return { type, shows: kind.family, trouble: null, pages: 0, pdf: null };
    case 'other':
      return { type, shows: 'nothing', trouble: kind.trouble, pages: 0, pdf: null };
  }
}

/** Only the header is read here; the pixels are opened in a process with limits. */
async function measurePicture(path: string, name: string): Promise<void> {
  const about = await sharp(path, { limitInputPixels: false })
    .metadata()
    .catch(() => null);
  if (!about?.width || !about.height) throw new Fault('picture-broken', { name });
  if (about.width * about.height > MOST_PIXELS_OF_A_PICTURE)
    throw new Fault('picture-too-big', {
      name,
      megapixels: Math.round((about.width * about.height) / 1e6),
      most: MOST_PIXELS_OF_A_PICTURE / 1e6,
    });
}
