import { type Criterion, formatPoints, type GridShape, type Level, type Rubric } from '@jotmark/core';
import { ChevronDown, ChevronUp, Trash2 } from 'lucide-react';
import { type KeyboardEvent, useLayoutEffect, useRef } from 'react';
import { IconButton } from '../frame/IconButton.tsx';
import { PointsInput } from '../frame/PointsInput.tsx';
import {
  addLevel,
  changeCriterion,
  changeLevel,
  levelsAlike,
  moveCriterion,
  removeCriterion,
  removeLevel,
} from './edit-rubric.ts';
import { pastedTable } from './tables.ts';

interface Props {
  readonly rubric: Rubric;
  readonly readOnly: boolean;
  onChange(rubric: Rubric): void;
  /** A table was pasted into a cell. */
  onTable(table: GridShape): void;
}

/** Goes to the cell above, below or beside: with Ctrl and an arrow, since arrows alone move in the words. */
function goWithArrow(e: KeyboardEvent<HTMLElement>): void {
  if (!(e.ctrlKey || e.metaKey) || !e.key.startsWith('Arrow')) return;
  const cell = (e.target as HTMLElement).closest('td, th') as HTMLTableCellElement | null;
  const row = cell?.parentElement as HTMLTableRowElement | null;
  if (!cell || !row) return;
  const rows = [...(row.closest('table')?.rows ?? [])];
  const [dx, dy] = { ArrowUp: [0, -1], ArrowDown: [0, 1], ArrowLeft: [-1, 0], ArrowRight: [1, 0] }[e.key] ?? [
    0, 0,
  ];
  const to = rows[rows.indexOf(row) + dy!]?.cells[cell.cellIndex + dx!];
  const field = to?.querySelector<HTMLElement>('textarea, input');
  if (!field) return;
  e.preventDefault();
  field.focus();
}

/** Criteria down, levels across; every cell is a field. Where all criteria have the same levels these are the heads. */
export function RubricGrid(p: Props) {
  const { rubric, readOnly, onChange } = p;
  const alike = levelsAlike(rubric);
  const width = Math.max(...rubric.criteria.map((c) => c.levels.length));
  const first = rubric.criteria[0]!;
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: what its fields do not take comes by here
    <div
      className="overflow-x-auto rounded-lg border border-line-strong bg-paper"
      onKeyDown={goWithArrow}
      onPaste={(e) => {
        const table = readOnly ? null : pastedTable(e.clipboardData.getData('text/plain'));
        if (!table) return;
        e.preventDefault();
        p.onTable(table);
      }}
    >
      <table
        className="w-full table-fixed border-collapse align-top"
        style={{ minWidth: `${13 + 8 * width}rem` }}
        aria-label="Criteria and levels"
      >
        <thead>
          <tr className="bg-raised text-left">
            <th className="w-52 border-b border-line p-2 font-normal text-soft">
              Criterion <span className="float-right">counts</span>
            </th>
            {Array.from({ length: width }, (_, i) => (
              <th key={i} scope="col" className="border-b border-l border-line p-1 align-top">
                {alike ? (
                  <LevelHead
                    level={first.levels[i]!}
                    at={i}
                    of=""
                    readOnly={readOnly}
                    onChange={(to) => onChange(changeLevel(rubric, null, i, to))}
                    onRemove={width > 1 ? () => onChange(removeLevel(rubric, null, i)) : null}
                  />
                ) : (
                  <span className="p-1 font-normal text-soft">{i + 1}</span>
                )}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rubric.criteria.map((c, row) => (
            <tr key={c.id} className="border-t border-line">
              <CriterionHead p={p} criterion={c} row={row} />
              {Array.from({ length: width }, (_, i) => {
                const level = c.levels[i];
                return (
                  <td key={i} className="border-l border-line p-1 align-top">
                    {level && !alike && (
                      <LevelHead
                        level={level}
                        at={i}
                        of={` of ${c.name}`}
                        readOnly={readOnly}
                        onChange={(to) => onChange(changeLevel(rubric, row, i, to))}
                        onRemove={c.levels.length > 1 ? () => onChange(removeLevel(rubric, row, i)) : null}
                      />
                    )}
                    {level ? (
                      <Words
                        label={`${c.name}, ${level.name || `level ${i + 1}`}`}
                        value={level.descriptor}
                        readOnly={readOnly}
                        onValue={(descriptor) => onChange(changeLevel(rubric, row, i, { descriptor }))}
                      />
                    ) : (
                      i === c.levels.length &&
                      !readOnly && (
                        <button
                          type="button"
                          className="text-sm text-action hover:underline"
                          onClick={() => onChange(addLevel(rubric, row))}
                        >
                          Add a level
                        </button>
                      )
                    )}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function CriterionHead({ p, criterion, row }: { p: Props; criterion: Criterion; row: number }) {
  const { rubric, readOnly, onChange } = p;
  const last = rubric.criteria.length - 1;
  return (
    <th scope="row" className="p-1 text-left align-top font-normal">
      <div className="flex items-start gap-1">
        <div className="min-w-0 flex-1">
          <Words
            label={`Name of criterion ${row + 1}`}
            value={criterion.name}
            readOnly={readOnly}
            strong
            most={200}
            onValue={(name) => onChange(changeCriterion(rubric, row, { name: name.replace(/\n/g, ' ') }))}
          />
        </div>
        <span className="pt-1 text-soft">×</span>
        <PointsInput
          aria-label={`How often ${criterion.name} counts`}
          className="w-10 rounded bg-transparent p-1 text-right tabular hover:bg-margin focus:bg-margin"
          readOnly={readOnly}
          value={criterion.weight}
          onChange={(weight) =>
            onChange(changeCriterion(rubric, row, { weight: Math.min(weight ?? 0, 10_000) }))
          }
        />
      </div>
      {!readOnly && (
        <span className="flex text-soft opacity-60 focus-within:opacity-100 hover:opacity-100">
          <IconButton
            label={`${criterion.name}: one up`}
            icon={ChevronUp}
            disabled={row === 0}
            onClick={() => onChange(moveCriterion(rubric, row, -1))}
          />
          <IconButton
            label={`${criterion.name}: one down`}
            icon={ChevronDown}
            disabled={row === last}
            onClick={() => onChange(moveCriterion(rubric, row, 1))}
          />
          <IconButton
            label={`Delete ${criterion.name}`}
            icon={Trash2}
            disabled={last === 0}
            onClick={() => onChange(removeCriterion(rubric, row))}
          />
        </span>
      )}
    </th>
  );
}

function LevelHead({
  level,
  at,
  of,
  readOnly,
  onChange,
  onRemove,
}: {
  level: Level;
  at: number;
  of: string;
  readOnly: boolean;
  onChange(to: Partial<Level>): void;
  onRemove: (() => void) | null;
}) {
  return (
    <div className="flex items-center gap-0.5">
      <input
        aria-label={`Name of level ${at + 1}${of}`}
        className="min-w-0 flex-1 rounded bg-transparent p-1 font-bold hover:bg-margin focus:bg-margin"
        maxLength={100}
        readOnly={readOnly}
        placeholder={`Level ${at + 1}`}
        value={level.name}
        onChange={(e) => onChange({ name: e.target.value })}
      />
      {level.points !== null && (
        <PointsInput
          aria-label={`Points of level ${at + 1}${of}`}
          className="w-11 rounded bg-transparent p-1 text-right font-normal text-soft tabular hover:bg-margin focus:bg-margin"
          readOnly={readOnly}
          value={level.points}
          onChange={(points) => points !== null && onChange({ points })}
        />
      )}
      {!readOnly && onRemove && (
        <span className="text-soft opacity-40 focus-within:opacity-100 hover:opacity-100">
          <IconButton
            label={`Delete level ${at + 1}${of}${level.points === null ? '' : `, ${formatPoints(level.points)} points`}`}
            icon={Trash2}
            onClick={onRemove}
          />
        </span>
      )}
    </div>
  );
}

/** Words in a cell that grows with them. */
function Words({
  label,
  value,
  readOnly,
  strong = false,
  most = 4000,
  onValue,
}: {
  label: string;
  value: string;
  readOnly: boolean;
  strong?: boolean;
  most?: number;
  onValue(value: string): void;
}) {
  const ref = useRef<HTMLTextAreaElement>(null);
  useLayoutEffect(() => {
    const el = ref.current!;
    el.style.height = '0';
    el.style.height = `${el.scrollHeight}px`;
  }, [value]);
  return (
    <textarea
      ref={ref}
      rows={1}
      aria-label={label}
      className={`block w-full resize-none rounded bg-transparent p-1 text-[14px] leading-snug hover:bg-margin focus:bg-margin ${strong ? 'font-bold' : ''}`}
      maxLength={most}
      readOnly={readOnly}
      value={value}
      onChange={(e) => onValue(e.target.value)}
    />
  );
}
