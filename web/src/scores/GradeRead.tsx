import { formatGrade, formatMost, gradeLines, type Snapshot } from '@jotmark/core';

/** The grade as it came back; opened, the whole sum that it comes from. */
export function GradeRead({ snapshot }: { snapshot: Snapshot }) {
  const { most, grade, scored, counts } = snapshot;
  if (most === null) return null;
  const scale = scored?.scale ?? { kind: 'points' as const };
  const say = (v: number) => formatGrade(v, most, scale);
  const lines = gradeLines(snapshot);
  const shown = (
    <>
      <span className="text-soft">Grade</span>
      <span className="ml-auto text-xl font-bold tabular">
        {grade === null ? 'none' : say(grade)}{' '}
        <span className="font-normal text-soft">{formatMost(most, scale)}</span>
      </span>
    </>
  );
  if (lines.length === 0) return <p className="mt-6 flex items-baseline rounded-lg bg-margin p-4">{shown}</p>;
  return (
    <details className="mt-6 rounded-lg bg-margin p-4">
      <summary className="cursor-pointer">
        <span className="inline-flex w-[calc(100%-1.25rem)] items-baseline">{shown}</span>
      </summary>
      <table className="mt-2 w-full text-sm tabular" aria-label="How the grade came to be">
        <tbody>
          {lines.map((l) => (
            <tr key={l.id} className={`border-t border-line ${l.sum ? 'font-semibold' : ''}`}>
              <th scope="row" className={`py-0.5 text-left ${l.sum ? '' : 'font-normal'}`}>
                {l.label}
              </th>
              <td className="text-right">{l.value}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {counts !== undefined && (
        <p className="mt-2 text-sm">An earlier hand-in counts, since it was better: {say(counts)}.</p>
      )}
    </details>
  );
}
