import { type CopySheet, inPageOrder, type Question, type RoomRow } from '@jotmark/core';

/** A4, which most pages are near enough to at this size; lying where a question reaches beyond its width. */
const PAGE = { short: 595, long: 842 } as const;
const shapeOf = (questions: readonly Question[]) =>
  questions.some((q) => q.box[2] > PAGE.short) ? `${PAGE.long} ${PAGE.short}` : `${PAGE.short} ${PAGE.long}`;

/** The pages of a copy so small that only this can be seen: which places are filled, which are open, and where the hand is. */
export function LivingSheet({ row, sheets }: { row: RoomRow; sheets: readonly CopySheet[] }) {
  const answered = new Set(row.answers.map((a) => a.question));
  const pages = sheets.flatMap((sheet) =>
    Array.from({ length: Math.max(1, sheet.document.pages) }, (_, page) => ({
      key: `${sheet.versionId}/${page}`,
      questions: inPageOrder(sheet.questions.filter((q) => q.page === page && q.answer.kind !== 'none')),
    })),
  );
  return (
    <div className="mt-2 flex gap-1.5" aria-hidden="true">
      {pages.slice(0, 6).map(({ key, questions }) => (
        <svg
          key={key}
          aria-hidden="true"
          viewBox={`0 0 ${shapeOf(questions)}`}
          className="h-[62px] bg-paper shadow"
        >
          {questions.map((q) => {
            const [l, t, r, b] = q.box;
            const full = answered.has(q.id);
            const now = row.atQuestion === q.id && row.place === 'with-student';
            return (
              <rect
                key={q.id}
                x={l}
                y={t}
                width={r - l}
                height={Math.max(26, b - t)}
                fill={full ? 'var(--color-action)' : 'none'}
                stroke={now ? 'var(--color-caution)' : 'var(--color-line-strong)'}
                strokeWidth={now ? 26 : 12}
                strokeDasharray={full ? undefined : '26 18'}
              />
            );
          })}
        </svg>
      ))}
    </div>
  );
}
