import { LETTERS, type Scale, type Scoring } from '@jotmark/core';
import { PointsInput } from '../frame/PointsInput.tsx';

const KINDS = [
  ['points', 'points'],
  ['percent', 'percent'],
  ['table', 'letters, or words of my own'],
  ['done', 'done / not yet'],
] as const;

const scaleOf = (kind: Scale['kind']): Scale => {
  switch (kind) {
    case 'table':
      return LETTERS;
    case 'done':
      return { kind, from: 5000 };
    default:
      return { kind };
  }
};

/** How grades are written and rounded. */
export function ScaleFields({
  scale,
  rounding,
  onChange,
}: {
  scale: Scale;
  rounding: Scoring['rounding'];
  onChange(part: Partial<Scoring>): void;
}) {
  const small = 'field !min-h-8 !w-auto !py-0';
  return (
    <div className="space-y-2 text-sm">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <label className="flex items-center gap-2">
          Grades are written as
          <select
            className={small}
            value={scale.kind}
            onChange={(e) => onChange({ scale: scaleOf(e.target.value as Scale['kind']) })}
          >
            {KINDS.map(([kind, words]) => (
              <option key={kind} value={kind}>
                {words}
              </option>
            ))}
          </select>
        </label>
        <label className="flex items-center gap-2">
          computed ones rounded
          <select
            className={small}
            value={rounding.way}
            onChange={(e) => onChange({ rounding: { ...rounding, way: e.target.value as 'nearest' } })}
          >
            <option value="nearest">to the nearest</option>
            <option value="up">up to a</option>
            <option value="down">down to a</option>
          </select>
          <select
            aria-label="Rounded to"
            className={small}
            value={rounding.to}
            onChange={(e) => onChange({ rounding: { ...rounding, to: Number(e.target.value) as 1 } })}
          >
            <option value={1}>hundredth</option>
            <option value={10}>tenth</option>
            <option value={25}>quarter</option>
            <option value={50}>half point</option>
            <option value={100}>whole point</option>
          </select>
        </label>
      </div>
      {scale.kind === 'done' && (
        <label className="flex items-center gap-2">
          Done from
          <PointsInput
            className={`${small} !w-16 text-right`}
            value={scale.from}
            onChange={(from) => onChange({ scale: { kind: 'done', from: Math.min(from ?? 0, 10_000) } })}
          />
          % of the points
        </label>
      )}
      {scale.kind === 'table' && (
        <Rows scale={scale} onChange={(rows) => onChange({ scale: { kind: 'table', rows } })} />
      )}
    </div>
  );
}

type Table = Extract<Scale, { kind: 'table' }>;

function Rows({ scale, onChange }: { scale: Table; onChange(rows: Table['rows']): void }) {
  const { rows } = scale;
  const set = (i: number, part: Partial<Table['rows'][number]>) =>
    onChange(rows.map((r, n) => (n === i ? { ...r, ...part } : r)));
  return (
    <table aria-label="Words of the scale">
      <tbody>
        {rows.map((row, i) => (
          <tr key={i}>
            <td className="pr-2">
              <input
                aria-label={`Word ${i + 1}`}
                className="field !min-h-8 !w-32 !py-0"
                maxLength={20}
                value={row.label}
                onChange={(e) => set(i, { label: e.target.value })}
              />
            </td>
            <td className="pr-2">
              {i === rows.length - 1 ? (
                <span className="text-soft">from 0 % on</span>
              ) : (
                <label className="flex items-center gap-1">
                  from
                  <PointsInput
                    aria-label={`${row.label} from, in percent`}
                    className="field !min-h-8 !w-16 !py-0 text-right tabular"
                    value={row.from}
                    onChange={(from) => from !== null && set(i, { from: Math.min(from, 10_000) })}
                  />
                  %
                </label>
              )}
            </td>
            <td>
              {rows.length > 2 && i < rows.length - 1 && (
                <button
                  type="button"
                  className="text-action hover:underline"
                  aria-label={`Delete ${row.label}`}
                  onClick={() => onChange(rows.filter((_, n) => n !== i))}
                >
                  Delete
                </button>
              )}
            </td>
          </tr>
        ))}
        <tr>
          <td colSpan={3}>
            <button
              type="button"
              className="text-action hover:underline"
              disabled={rows.length >= 40}
              onClick={() => {
                const [last, before] = [rows.at(-1)!, rows.at(-2)!];
                const from = Math.max(1, Math.round(before.from / 2));
                onChange([...rows.slice(0, -1), { label: `${rows.length}`, from }, last]);
              }}
            >
              Add a word
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  );
}
