import { PDFDocument } from '@cantoo/pdf-lib';
import {
  clockOf,
  formatPoints,
  inTimeOrder,
  isClip,
  type Mark,
  momentOf,
  type Recording,
  recordingOf,
  spokenWords,
  stampName,
} from '@jotmark/core';
import { Fonts } from './fonts.ts';
import { type ListItem, SHEET_FRAME, writeList } from './list-pages.ts';
import { contentsOf } from './said.ts';
import { aboutCopy, attachVoice, type VoicesOf } from './voices.ts';

/** A film or a sound of a hand-in, and the marks on it. */
export interface MarkedFilm {
  readonly name: string;
  readonly marks: Mark[];
}

/** Beside the text of its item, right of the middle margin. */
const VOICE_X = 540;

/** What was marked on films as sheets of its own: a list for each with the times, recordings attached beside their items. */
export async function filmLists(
  films: readonly MarkedFilm[],
  author: string,
  voices: VoicesOf,
  about: Recording | null = null,
): Promise<PDFDocument> {
  const pdf = await PDFDocument.create();
  const lists = films.map(({ name, marks }) => {
    const ordered = inTimeOrder(marks);
    return { heading: `${name}, ${author}`, ordered, items: ordered.map(itemOf) };
  });
  const fonts = await Fonts.for(pdf, [
    '0123456789:',
    ...lists.flatMap((l) => [l.heading, ...l.items.map((i) => i.text)]),
  ]);
  for (const { heading, ordered, items } of lists)
    for (const [i, { page, y }] of writeList(pdf, fonts, heading, items).entries()) {
      const mark = ordered[i]!;
      const recording = recordingOf(mark);
      if (!recording) continue;
      const { colour, focus, id, madeAt } = mark;
      const at = [VOICE_X, y - 10] as const;
      const name = `Voice note at ${clockOf(momentOf(mark)!).replaceAll(':', '.')}`;
      const ref = attachVoice(
        pdf.context,
        page,
        SHEET_FRAME,
        { recording, at, colour, focus, id, madeAt, name, author },
        voices,
      );
      if (ref) page.node.addAnnot(ref);
    }
  const first = pdf.getPages()[0];
  const top =
    about && first && attachVoice(pdf.context, first, SHEET_FRAME, aboutCopy(about, author), voices);
  if (top) first.node.addAnnot(top);
  return pdf;
}

function itemOf(mark: Mark): ListItem {
  const sign = clockOf(momentOf(mark)!);
  if (mark.kind === 'stamp')
    return {
      sign,
      text: [stampName(mark.look), mark.points !== null && formatPoints(mark.points)]
        .filter(Boolean)
        .join(' '),
    };
  const recording = recordingOf(mark);
  const said = [
    'words' in mark && mark.words ? contentsOf(mark, (words) => words) : '',
    recording ? `(${isClip(recording) ? 'clip' : 'voice note'}, ${clockOf(recording.ms)})` : '',
    recording ? spokenWords(recording) : '',
  ]
    .filter(Boolean)
    .join('\n');
  return { sign, text: mark.focus ? `${mark.focus}: ${said}` : said };
}
