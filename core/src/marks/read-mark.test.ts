import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { anyMark, document, testId } from '../changes/arbitrary.ts';
import { readChange } from '../changes/read-change.ts';
import { readHandInContent } from '../copy/content.ts';
import { readSnapshot } from '../handback/snapshot.ts';
import type { ChangeId, MarkId } from '../ids/id.ts';
import { readTrays, starterTrays } from '../pens/trays.ts';
import { readQuestions } from '../questions/question.ts';
import { base64Of, bytesOf, type Digest, digestOf } from '../versions/digest.ts';
import { readVersioned } from '../versions/reading.ts';
import { Mark } from './mark.ts';
import { bytesIn, markText, readMark } from './read-mark.ts';

const id = testId<MarkId>(7);
const base = { v: 1, id, document, page: 2, colour: 'lake', focus: null, madeAt: 5 };
const png = base64Of(new Uint8Array([137, 80, 78, 71, 1, 2, 3]));
const stamp = { ...base, kind: 'stamp', x: 1, y: 2, size: 20, turn: 0, points: null };

/** Collects what is kept apart. */
const keeper = () => {
  const kept = new Map<Digest, Uint8Array>();
  const keep = (bytes: Uint8Array) => {
    const digest = digestOf(bytes);
    kept.set(digest, bytes);
    return digest;
  };
  return { kept, keep };
};

describe('a mark of an older version', () => {
  test('without bytes in it only learns its version', () => {
    const note = { ...base, kind: 'note', place: { on: 'spot', x: 3, y: 4 }, words: 'Why?' };
    expect(readMark(note)).toEqual({ ...note, v: 2 });
  });

  test('with a picture in it names the picture from now on; its bytes are kept apart', () => {
    const { kept, keep } = keeper();
    const mark = readMark({ ...stamp, look: { of: 'picture', name: 'Seal', png } }, null, keep);
    const [picture] = [...kept.keys()];
    expect(mark).toEqual({ ...stamp, v: 2, look: { of: 'picture', name: 'Seal', picture } });
    expect(base64Of(kept.get(picture!)!)).toBe(png);
    expect(bytesIn(mark)).toEqual([picture]);
  });

  test('from another program has its annotation and its look kept apart', () => {
    const { kept, keep } = keeper();
    const old = {
      ...base,
      kind: 'foreign',
      box: [1, 2, 3, 4],
      what: 'Stamp',
      said: 'Draft',
      pdf: png,
      png: null,
    };
    const mark = readMark(old, null, keep);
    expect(mark).toMatchObject({ v: 2, kind: 'foreign', pdf: [...kept.keys()][0], picture: null });
    expect('png' in mark).toBe(false);
  });
});

describe('a mark that cannot be read', () => {
  test.each([
    ['of a version to come', { ...base, v: 9, kind: 'hologram' }],
    ['of a kind nobody knows', { ...base, v: 2, kind: 'hologram', depth: 3 }],
    ['with a broken picture', { ...stamp, look: { of: 'picture', name: 'x', png: '§§' } }],
  ])('%s is kept whole, stays on its page and goes back as it came', (_, raw) => {
    const mark = readMark(raw);
    expect(mark).toMatchObject({ kind: 'unread', id, document, page: 2 });
    expect(JSON.parse(markText(mark))).toEqual(raw);
    // Sent, kept and read again it is still the same.
    expect(readMark(JSON.parse(JSON.stringify(mark)))).toEqual(mark);
    expect(Mark.parse(mark)).toEqual(mark);
  });

  test('and does not even say what it is has the id under which it is stored', () => {
    expect(readMark('nonsense', id)).toMatchObject({ kind: 'unread', id, raw: '"nonsense"' });
  });
});

test('any mark of today is read as it is, and its text is itself', () => {
  fc.assert(
    fc.property(anyMark(id), (mark) => {
      expect(readMark(JSON.parse(markText(mark)))).toEqual(mark);
    }),
    { seed: 11, numRuns: 200 },
  );
});

test('a removal of before names the mark it took', () => {
  const mark = readMark({ ...base, kind: 'box', box: [1, 2, 3, 4], width: 2 });
  const old = { id: testId<ChangeId>(8), base: null, type: 'remove', mark: { ...mark, v: 1 } };
  expect(readChange(old)).toEqual({
    ok: true,
    value: { id: old.id, base: null, type: 'remove', of: id, was: mark },
  });
  expect(readChange({ type: 'remove' }).ok).toBe(false);
});

test('what was handed in and handed back long ago is read with its marks brought forward', () => {
  const old = { ...base, kind: 'line', from: [1, 2], to: [3, 4], width: 2 };
  const snapshot = { v: 1, marks: [old], grade: 50, most: 100, closing: '', markedBy: 'Q', turns: {} };
  const back = readSnapshot(snapshot);
  expect(back.ok && back.value.marks).toEqual([{ ...old, v: 2 }]);
  const content = { v: 1, sheets: [{ versionId: testId(4), answers: {}, marks: [old] }] };
  const handedIn = readHandInContent(content);
  expect(handedIn.ok && handedIn.value.sheets[0]!.marks).toEqual([{ ...old, v: 2 }]);
  expect(readSnapshot({ ...snapshot, v: 2 })).toEqual({ ok: false, expected: 'version 1 at most, not 2' });
});

test('trays of before lose their bytes and nothing else', () => {
  const now = starterTrays(() => testId(3));
  const { v: _, ...old } = now;
  expect(readTrays(old)).toEqual({ ok: true, value: now });
  const pen = { tool: 'stamp', name: 'seal', colour: 'lake', width: 20, focus: null, points: null };
  const { kept, keep } = keeper();
  const read = readTrays(
    { ...old, trays: [{ ...old.trays[0], pens: [{ ...pen, look: { of: 'picture', name: 'x', png } }] }] },
    keep,
  );
  expect(read.ok && read.value.trays[0]!.pens[0]).toMatchObject({
    look: { of: 'picture', picture: [...kept.keys()][0] },
  });
});

test('the steps of versions are gone one after the other, from where a value stands', () => {
  const steps = [
    (x: object) => ({ ...x, v: 2, trace: 'a' }),
    (x: object) => ({ ...x, v: 3, trace: `${(x as { trace: string }).trace}b` }),
  ];
  const any = { safeParse: (data: unknown) => ({ success: true, data }) } as never;
  const trace = (raw: unknown) =>
    (readVersioned(raw, steps, any) as { value: { trace: string } }).value?.trace;
  expect(trace({})).toBe('ab');
  expect(trace({ v: 2, trace: '' })).toBe('b');
  expect(trace({ v: 3, trace: 'as it was' })).toBe('as it was');
  expect(readVersioned([], steps, any).ok).toBe(false);
  expect(readVersioned({ v: 0.5 }, steps, any).ok).toBe(false);
  expect(readQuestions('x').ok).toBe(false);
});

test('a digest is the SHA-256 of the bytes (FIPS 180-2, appendix B.1: "abc")', () => {
  expect(digestOf(new TextEncoder().encode('abc'))).toBe(
    'ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad',
  );
  expect(bytesOf('AQID')).toEqual(new Uint8Array([1, 2, 3]));
});
