import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { anyMark, testId } from '../changes/arbitrary.ts';
import type { DocumentId, MarkId } from '../ids/id.ts';
import { readWebAnnotations, writeWebAnnotations } from './web-annotation.ts';

const idFor = () => testId<MarkId>(99);
const pages = (id: DocumentId, n: number) => ({
  id,
  name: 'map.pdf',
  sizes: Array.from({ length: n }, () => [595, 842] as const),
});

describe('marks as Web Annotations', () => {
  test('for any marks: through JSON and back they are the very same, and each names a page and a rectangle', () => {
    fc.assert(
      fc.property(fc.array(anyMark(testId<MarkId>(1)), { maxLength: 6 }), (made) => {
        const marks = made.map((m, i) => ({ ...m, id: testId<MarkId>(i + 1) }));
        const documents = [...new Set(marks.map((m) => m.document))].map((id) => pages(id, 500));
        const about = { author: 'Ms Quill', documents, id: testId<MarkId>(7) };
        const text = JSON.stringify(writeWebAnnotations(marks, about));
        const told = readWebAnnotations(JSON.parse(text), documents, idFor)!;
        const kept = marks.filter((m) => m.kind !== 'unread');
        expect(told.marks).toEqual(JSON.parse(JSON.stringify(kept)));
        expect(told).toMatchObject({ offPage: 0, unknown: 0, ids: testId<MarkId>(7) });
        for (const item of JSON.parse(text).items)
          expect(item.target.selector[0].value).toMatch(
            /^page=\d+&viewrect=-?[\d.]+,-?[\d.]+,[\d.]+,[\d.]+$/,
          );
      }),
    );
  });

  test('of another program: pages are counted through all documents, words of a tag are no words', () => {
    const documents = [pages(testId<DocumentId>(1), 2), pages(testId<DocumentId>(2), 1)];
    const item = (value: string, more: object = {}) => ({
      body: [
        { value: 'Well drawn.', type: 'TextualBody' },
        { value: 'method', purpose: 'tagging' },
      ],
      target: { selector: { type: 'FragmentSelector', value } },
      ...more,
    });
    const told = readWebAnnotations(
      [item('page=3&viewrect=10,20,0,0'), item('page=4'), item('nothing')],
      documents,
      idFor,
    )!;
    expect(told).toMatchObject({
      marks: [
        {
          document: testId<DocumentId>(2),
          page: 0,
          words: 'Well drawn.',
          place: { on: 'spot', x: 10, y: 20 },
        },
      ],
      offPage: 1,
      unknown: 1,
    });
  });

  test.each([[null], ['x'], [{}], [{ items: 'x' }], [{ items: [1, null, {}] }]])(
    'what is none: %j',
    (raw) => {
      const told = readWebAnnotations(raw, [pages(testId<DocumentId>(1), 1)], idFor);
      if (told) expect(told).toMatchObject({ marks: [], unknown: 3 });
      else expect(told).toBeNull();
    },
  );
});
