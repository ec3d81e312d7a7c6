import fc from 'fast-check';
import { type ChangeId, type DocumentId, type MarkId, makeId, type QuestionId } from '../ids/id.ts';
import type { Mark } from '../marks/mark.ts';
import { scoreOfQuestion } from '../scores/score.ts';
import type { Digest } from '../versions/digest.ts';
import type { Change } from './change.ts';
import { applyChange, type Sheet, versionOf } from './sheet.ts';

/** For tests: ids that are valid and the same in every run. */
export function testId<T extends string>(n: number): T {
  return makeId(n, new Uint8Array(10).fill(n % 251)) as T;
}

export const document = testId<DocumentId>(1);

const at = fc.integer({ min: 0, max: 50_000 });
const points = fc.array(fc.tuple(at, at, fc.nat(255)), { minLength: 1, maxLength: 5 }).map((p) => p.flat());
const place = fc.nat(500);
const spot = fc.tuple(place, place);
const box = fc
  .tuple(place, place, fc.integer({ min: 1, max: 200 }), fc.integer({ min: 1, max: 200 }))
  .map(([x, y, w, h]) => [x, y, x + w, y + h] as [number, number, number, number]);
const turn = fc.constantFrom(0 as const, 90 as const, 180 as const, 270 as const);
const said = fc.string({ maxLength: 20 });
const quote = { exact: 'hill', prefix: 'The ', suffix: ' is', start: 4, end: 8 };
const passage = box.map((band) => ({ on: 'passage' as const, bands: [band], quote }));

/** Any mark of any kind with this id. */
export const anyMark = (id: MarkId): fc.Arbitrary<Mark> => {
  const base = fc.record({
    v: fc.constant(2 as const),
    id: fc.constant(id),
    document: fc.constant(document),
    page: fc.integer({ min: 0, max: 2 }),
    colour: fc.constantFrom('garnet' as const, 'lake' as const),
    focus: fc.constantFrom(null, 'wording'),
    madeAt: fc.constant(1000),
  });
  const kinds: fc.Arbitrary<
    DistributiveOmit<Mark, 'v' | 'id' | 'document' | 'page' | 'colour' | 'focus' | 'madeAt'>
  >[] = [
    points.map((p) => ({ kind: 'ink', points: p, width: 1.6 })),
    points.map((p) => ({ kind: 'highlight', place: { on: 'free', points: p, width: 11 } })),
    passage.map((on) => ({ kind: 'highlight', place: on })),
    fc.tuple(spot, said).map(([[x, y], words]) => ({ kind: 'note', place: { on: 'spot', x, y }, words })),
    fc.tuple(box, said).map(([b, words]) => ({ kind: 'note', place: { on: 'box', box: b }, words })),
    fc.tuple(passage, said).map(([on, words]) => ({ kind: 'note', place: on, words })),
    fc
      .tuple(fc.constantFrom('line' as const, 'arrow' as const), spot, spot)
      .map(([kind, from, to]) => ({ kind, from, to, width: 2 })),
    fc
      .tuple(fc.constantFrom('box' as const, 'ring' as const), box)
      .map(([kind, b]) => ({ kind, box: b, width: 2 })),
    fc
      .tuple(spot, turn, said)
      .map(([[x, y], t, words]) => ({ kind: 'text', x, y, w: 100, h: 20, size: 13, turn: t, words })),
    fc.tuple(spot, turn, fc.option(fc.nat(500))).map(([[x, y], t, earned]) => ({
      kind: 'stamp',
      x,
      y,
      size: 20,
      turn: t,
      look: { of: 'sign', sign: 'tick' },
      points: earned,
    })),
    passage.map((on) => ({ kind: 'cut', place: on })),
    fc.tuple(passage, said).map(([on, words]) => ({
      kind: 'note',
      place: on,
      words,
      replies: [{ by: 'Ana', said: 'Why?', at: 3 }],
    })),
    box.map((b) => ({
      kind: 'foreign',
      box: b,
      what: 'Polygon',
      said: '',
      pdf: 'ab'.repeat(32) as Digest,
      picture: null,
    })),
    fc.tuple(passage, said).map(([on, words]) => ({ kind: 'swap', place: on, words })),
    fc.tuple(spot, said).map(([[x, y], words]) => ({
      kind: 'add',
      words,
      place: { on: 'caret', side: 'after', x, top: y, bottom: y + 12, quote },
    })),
  ];
  return fc.tuple(base, fc.oneof(...kinds)).map(([b, kind]) => ({ ...b, ...kind }) as Mark);
};
type DistributiveOmit<T, K extends PropertyKey> = T extends unknown ? Omit<T, K> : never;

/** A step for `play`: what to try on whatever stands then. */
export type Step = { n: number; act: number; mark: Mark; grade: number | null; closing: string };

export const steps: fc.Arbitrary<Step[]> = fc.array(
  fc.nat(4).chain((n) =>
    fc.record({
      n: fc.constant(n),
      act: fc.nat(6),
      mark: anyMark(testId<MarkId>(100 + n)),
      grade: fc.option(fc.nat(1000)),
      closing: fc.string({ maxLength: 10 }),
    }),
  ),
  { minLength: 1, maxLength: 25 },
);

/** Turns steps into changes that make sense on the sheet as it then stands. */
export function play(
  start: Sheet,
  list: readonly Step[],
  firstId = 1000,
): { sheet: Sheet; changes: Change[] } {
  let sheet = start;
  const changes: Change[] = [];
  list.forEach((step, i) => {
    const id = testId<ChangeId>(firstId + i);
    const now = sheet.marks.get(step.mark.id)?.value ?? null;
    const base = versionOf(sheet, step.mark.id);
    const { grade, closing, done } = sheet.slip;
    const change: Change =
      step.act === 0 && now
        ? { id, base, type: 'remove', of: now.id, was: now }
        : step.act === 1
          ? { id, base: grade.version, type: 'write', field: 'grade', value: step.grade, was: grade.value }
          : step.act === 2
            ? {
                id,
                base: closing.version,
                type: 'write',
                field: 'closing',
                value: step.closing,
                was: closing.value,
              }
            : step.act === 3
              ? { id, base: done.version, type: 'write', field: 'done', value: !done.value, was: done.value }
              : step.act === 5
                ? answerChange(sheet, id, step)
                : step.act === 6
                  ? scoreChange(sheet, id, step)
                  : { id, base, type: 'put', mark: step.mark, was: now };
    sheet = applyChange(sheet, change);
    changes.push(change);
  });
  return { sheet, changes };
}

function scoreChange(sheet: Sheet, id: ChangeId, step: Step): Change {
  const of = scoreOfQuestion(testId<QuestionId>(200 + step.n));
  const now = sheet.scores.get(of);
  const value = step.grade === null ? null : { of: 'question' as const, points: step.grade };
  return { id, base: now?.version ?? null, type: 'score', of, value, was: now?.value ?? null };
}

function answerChange(sheet: Sheet, id: ChangeId, step: Step): Change {
  const question = testId<QuestionId>(200 + step.n);
  const now = sheet.answers.get(question);
  return {
    id,
    base: now?.version ?? null,
    type: 'answer',
    question,
    value: step.closing,
    was: now?.value ?? '',
  };
}

/** The values of a sheet without their versions, for comparing. */
export function valuesOf(sheet: Sheet): unknown {
  return {
    marks: [...sheet.marks]
      .filter(([, m]) => m.value)
      .map(([id, m]) => [id, m.value])
      .sort(),
    slip: Object.fromEntries(Object.entries(sheet.slip).map(([k, v]) => [k, v.value])),
    // An answer that was taken back is as empty as one never given.
    answers: [...sheet.answers]
      .filter(([, a]) => a.value !== '')
      .map(([id, a]) => [id, a.value])
      .sort(),
  };
}
