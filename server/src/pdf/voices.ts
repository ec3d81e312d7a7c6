import type { PDFContext, PDFPage, PDFRef } from '@cantoo/pdf-lib';
import {
  type Box,
  clockOf,
  coverOf,
  type Digest,
  type InkColour,
  isClip,
  leadPoint,
  type NoteMark,
  type PageFrame,
  type Recording,
  spokenWords,
  type VoiceType,
} from '@jotmark/core';
import { list, n, pdfDate, rgb, toRect } from './drawing.ts';
import { ALSO_KEY } from './kept-mark.ts';
import { Written, WrittenStream, words } from './written.ts';

/** A recording as it is attached: bytes that every player opens. */
export interface VoiceFile {
  readonly type: VoiceType;
  readonly bytes: Uint8Array;
}
export type VoicesOf = (file: Digest) => VoiceFile | null;

const ENDINGS: Readonly<Record<VoiceType, string>> = {
  'audio/ogg': 'ogg',
  'audio/mpeg': 'mp3',
  'audio/wav': 'wav',
  'video/webm': 'webm',
  'video/mp4': 'mp4',
};

/** How large its sign is on the page, in points. */
const SIGN = { wide: 18, high: 13 } as const;

/** One recording to attach at a place of a page. */
export interface Attached {
  readonly recording: Recording;
  /** Top left of its sign, in page space. */
  readonly at: readonly [number, number];
  readonly colour: InkColour;
  readonly focus: string | null;
  /** What it is called in lists of attachments, without its ending. */
  readonly name: string;
  readonly id: string;
  readonly author: string;
  readonly madeAt: number;
}

/** What is said about the whole copy, at the top of its first page. */
export const aboutCopy = (recording: Recording, author: string): Attached => ({
  recording,
  at: [14, 14],
  colour: 'garnet',
  focus: null,
  name: 'About the whole copy',
  id: recording.file.slice(0, 16),
  author,
  madeAt: 0,
});

/** Where the sign of a note's voice stands: to the right of where the note's own begins, so that neither covers the other. */
export function voiceSpot(note: NoteMark): readonly [number, number] {
  const [x] = leadPoint(note);
  const [, top] = coverOf(note);
  return [x + (note.place.on === 'spot' ? 9 : 3), top - (note.place.on === 'spot' ? 0.5 : 4)];
}

/**
 * A FileAttachment of ISO 32000-1, 12.5.6.15: the file, what is said in it as its contents, and a small wave as its sign. Null: its bytes are not at hand.
 */
export function attachVoice(
  context: PDFContext,
  page: PDFPage,
  frame: PageFrame,
  what: Attached,
  voices: VoicesOf,
): PDFRef | null {
  const { recording, colour, author } = what;
  const file = voices(recording.file);
  if (!file) return null;
  const [x, y] = what.at;
  const rect = toRect(frame, [x, y, x + SIGN.wide, y + SIGN.high]);
  const name = `${what.name}.${ENDINGS[file.type]}`;
  const stream = context.register(
    new WrittenStream(
      context,
      `/Type /EmbeddedFile /Subtype /${file.type.replace('/', '#2F')} /Params << /Size ${file.bytes.length} /ModDate ${pdfDate(what.madeAt)} >>`,
      file.bytes,
    ),
  );
  const length = `${isClip(recording) ? 'Clip' : 'Voice note'}, ${clockOf(recording.ms)}`;
  const said = spokenWords(recording);
  const when = pdfDate(what.madeAt);
  const focus = what.focus ? ` /Subj ${words(what.focus)}` : '';
  const spec = context.register(
    new Written(
      `<< /Type /Filespec /F ${words(name)} /UF ${words(name)} /Desc ${words(length)} /EF << /F ${stream} /UF ${stream} >> >>`,
    ),
  );
  return context.register(
    new Written(
      `<< /Type /Annot /Subtype /FileAttachment /Rect ${list(rect)} /F 4 /NM (${what.id}-voice) /T ${words(author)} /M ${when} /CreationDate ${when} ` +
        `/P ${page.ref}${focus} /C ${list(rgb(colour))} /FS ${spec} /Contents ${words(said ? `${length}\n${said}` : length)} /${ALSO_KEY} true ` +
        `/AP << /N ${sign(context, rect, recording, colour)} >> >>`,
    ),
  );
}

/** A rounded field with the recording's own wave in it. */
function sign(context: PDFContext, [x0, y0, x1, y1]: Box, { peaks }: Recording, colour: InkColour): PDFRef {
  const [w, h] = [x1 - x0, y1 - y0];
  const bars = 6;
  const drawn = [
    `1 1 1 rg ${rgb(colour).map(n).join(' ')} RG 0.9 w ${n(x0 + 0.5)} ${n(y0 + 0.5)} ${n(w - 1)} ${n(h - 1)} re B 1 J 1.5 w`,
  ];
  for (let i = 0; i < bars; i++) {
    const part = peaks.slice((i * peaks.length) / bars, ((i + 1) * peaks.length) / bars);
    const high = Math.max(0.18, Math.max(0, ...part) / 100) * h * 0.62;
    const x = x0 + (w * (i + 1)) / (bars + 1);
    drawn.push(`${n(x)} ${n((y0 + y1 - high) / 2)} m ${n(x)} ${n((y0 + y1 + high) / 2)} l S`);
  }
  const box = `/Type /XObject /Subtype /Form /BBox ${list([x0, y0, x1, y1])} /Resources << >>`;
  return context.register(
    new WrittenStream(context, box, Buffer.from(drawn.join('\n'), 'latin1'), [x0, y0, x1, y1]),
  );
}
