import { formatPoints, type Rubric } from '@jotmark/core';

/** A rubric to be read: what is looked for, and what each level means. Without a grade no number stands anywhere. */
export function RubricRead({
  name,
  rubric,
  graded,
}: {
  name: string;
  rubric: Pick<Rubric, 'criteria'>;
  graded: boolean;
}) {
  return (
    <section aria-label={`Rubric: ${name}`}>
      <h2 className="font-bold">{name}</h2>
      <p className="text-sm text-soft">What your teacher looks for</p>
      {rubric.criteria.map((c) => (
        <details key={c.id} className="mt-2 border-t border-line pt-2">
          <summary className="cursor-pointer font-semibold">
            {c.name}
            {graded && c.weight !== 100 && (
              <span className="font-normal text-soft"> × {formatPoints(c.weight)}</span>
            )}
          </summary>
          <ul className="mt-1 text-[15px]">
            {c.levels.map((l, i) => (
              <li key={l.id} className="py-0.5">
                <b>{l.name || `Level ${i + 1}`}</b>
                {graded && l.points !== null && (
                  <span className="text-soft"> ({formatPoints(l.points)})</span>
                )}
                {l.descriptor && <>: {l.descriptor}</>}
              </li>
            ))}
          </ul>
        </details>
      ))}
    </section>
  );
}
