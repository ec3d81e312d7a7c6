import {
  cellName,
  formatPoints,
  type GridTrouble,
  type ReadGrid,
  type Rubric,
  readGrid,
  rubricOf,
  type Understood,
} from '@jotmark/core';
import { useMemo, useState } from 'react';
import { DialogShell } from '../frame/DialogShell.tsx';
import { newId } from '../outbox/new-id.ts';
import { plural } from '../time/words.ts';
import type { Tables } from './tables.ts';

const REFUSED: Readonly<Record<Extract<ReadGrid, { ok: false }>['reason'], string>> = {
  empty: 'This table is empty.',
  'too-wide': 'This table is wider than any rubric: at most 40 columns and 20 levels.',
  'too-long': 'This table is longer than any rubric: at most 80 lines and 50 criteria.',
  'no-table': 'No criteria with levels could be found in it.',
};

/** What was understood of a table, to be looked at and corrected before it is taken. */
export function ReadTable({
  found,
  what,
  onTake,
  onClose,
}: {
  found: Tables;
  what: string;
  onTake(rubric: Rubric, name: string): void;
  onClose(): void;
}) {
  const [which, setWhich] = useState(0);
  const [said, setSaid] = useState<Partial<Pick<Understood, 'criteria' | 'bestFirst'>>>({});
  const table = found.tables[which]!;
  const read = useMemo(() => readGrid(table, said), [table, said]);
  const odd = new Set(read.ok ? read.troubles.map((t) => t.cell) : []);
  return (
    <DialogShell open title={`From ${found.from}`} width="wide" onClose={onClose}>
      {found.tables.length > 1 && (
        <label className="mt-2 block text-sm">
          Which table{' '}
          <select className="field !w-auto" value={which} onChange={(e) => setWhich(Number(e.target.value))}>
            {found.tables.map((t, i) => (
              <option key={i} value={i}>
                {t.name || `table ${i + 1}`}
              </option>
            ))}
          </select>
        </label>
      )}
      <div className="mt-3 max-h-56 overflow-auto rounded border border-line">
        <table className="border-collapse text-[12px]" aria-label="The table as it is">
          <tbody>
            {table.cells.slice(0, 80).map((line, row) => (
              <tr key={row}>
                <th scope="row" className="bg-margin px-1 font-normal text-soft">
                  {row + 1}
                </th>
                {line.slice(0, 40).map((cell, column) => (
                  <td
                    key={column}
                    title={cellName(column, row)}
                    className={`max-w-40 truncate border border-line px-1.5 py-0.5 ${odd.has(cellName(column, row)) ? 'bg-amber/30' : ''}`}
                  >
                    {cell}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {read.ok ? (
        <>
          <p className="mt-3">Read as: {understoodWords(read.understood)}.</p>
          <p className="mt-1 flex flex-wrap gap-4 text-sm">
            <button
              type="button"
              className="text-action underline"
              onClick={() =>
                setSaid({ ...said, criteria: read.understood.criteria === 'down' ? 'across' : 'down' })
              }
            >
              Swap criteria and levels
            </button>
            <button
              type="button"
              className="text-action underline"
              onClick={() => setSaid({ ...said, bestFirst: !read.understood.bestFirst })}
            >
              {read.understood.bestFirst ? 'The best level stands last' : 'The best level stands first'}
            </button>
          </p>
          {read.troubles.length > 0 && (
            <ul className="mt-2 max-h-32 overflow-auto text-sm text-caution" aria-label="Cells to check">
              {read.troubles.map((t, i) => (
                <li key={i}>{troubleWords(t)}</li>
              ))}
            </ul>
          )}
          <Result read={read} />
          <div className="mt-4 flex gap-3">
            <button
              type="button"
              className="act"
              onClick={() =>
                onTake(
                  rubricOf(read.criteria, () => newId()),
                  read.name || nameOf(found),
                )
              }
            >
              {what}: {plural(read.criteria.length, 'criterion', 'criteria')}
            </button>
            <button type="button" className="quiet" onClick={onClose}>
              Cancel
            </button>
          </div>
        </>
      ) : (
        <>
          <p role="alert" className="mt-3 text-caution">
            {REFUSED[read.reason]} Nothing was taken.
            {found.tables.length > 1 && ' Choose another table, or change it where it was made.'}
          </p>
          <button type="button" className="quiet mt-4" onClick={onClose}>
            Cancel
          </button>
        </>
      )}
    </DialogShell>
  );
}

const nameOf = ({ from }: Tables): string => (from === 'the clipboard' ? '' : from.replace(/\.[^.]+$/, ''));

function Result({ read }: { read: Extract<ReadGrid, { ok: true }> }) {
  return (
    <ul className="mt-3 max-h-40 overflow-auto border-t border-line text-sm" aria-label="Preview">
      {read.criteria.map((c, i) => (
        <li key={i} className="border-b border-dashed border-line py-1">
          <b>{c.name}</b>
          {c.weight !== 100 && <span className="text-soft"> × {formatPoints(c.weight)}</span>}
          <span className="text-soft">
            {' '}
            ·{' '}
            {c.levels
              .map((l) =>
                [l.name, l.points === null ? '' : `(${formatPoints(l.points)})`].filter(Boolean).join(' '),
              )
              .join(', ')}
          </span>
        </li>
      ))}
    </ul>
  );
}

const POINTS_WORDS: Readonly<Record<Understood['points'], string>> = {
  heads: 'points in the heads',
  cells: 'points in the cells',
  line: 'points in a line of their own',
  none: 'no points',
};

function understoodWords(u: Understood): string {
  return [
    u.criteria === 'down' ? 'criteria down, levels across' : 'criteria across, levels down',
    POINTS_WORDS[u.points],
    u.weights ? 'with weights' : null,
    u.bestFirst ? 'the best level first' : null,
  ]
    .filter(Boolean)
    .join(', ');
}

function troubleWords({ cell, what, said }: GridTrouble): string {
  const at = said ? `${cell} says “${said}”` : `${cell} is empty`;
  switch (what) {
    case 'number-word':
      return `${at}: a number as a word, from which nothing can be added. It was kept as text.`;
    case 'no-points':
      return `${at}: no points could be read there, though the others have some.`;
    case 'no-weight':
      return `${at}: that is no weight. It counts once.`;
    case 'no-name':
      return `${at}: a criterion without a name. It was given one.`;
    case 'too-long':
      return `${cell} is longer than a descriptor may be. Its end was left out.`;
    case 'merged':
      return `${cell} is merged with its neighbours: its words count for the first of them only.`;
    case 'formula':
      return `${at}: a formula. What it came to was taken.`;
    case 'same-name':
      return `${at}: there are two criteria of that name. Both were taken.`;
    case 'left-out':
      return `${at}: it belongs to no criterion and no level, and was left out.`;
  }
}
