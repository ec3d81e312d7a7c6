import { type CopyId, isUnopened, type PileRow, registerName, type Scale } from '@jotmark/core';
import {
  createColumnHelper,
  FlexRender,
  type Row,
  rowSelectionFeature,
  tableFeatures,
  useTable,
} from '@tanstack/react-table';
import { memo, useEffect, useMemo, useRef } from 'react';
import { Link } from 'react-router';
import { usePrepare } from '../ahead/ahead.ts';
import { useHere } from '../frame/session.tsx';
import { PHONE, TOUCH, useMedia } from '../frame/useMedia.ts';
import { useRowsInSight } from '../frame/useRowsInSight.ts';
import { PLACE_WORDS, PlaceGlyph } from '../look/glyphs.tsx';
import { addressOfCopy } from '../pile-order/copy-address.ts';
import { lateWords, plural } from '../time/words.ts';
import { DoneCell, GradeCell } from './GradeCell.tsx';

interface Props {
  readonly most: number | null;
  readonly scale: Scale;
  readonly rows: readonly PileRow[];
  readonly chosen: ReadonlySet<CopyId>;
  onChoose(chosen: ReadonlySet<CopyId>): void;
}

const features = tableFeatures({ rowSelectionFeature });
const column = createColumnHelper<typeof features, PileRow>();
type PileTableRow = Row<typeof features, PileRow>;

const nameOf = (row: PileRow) => registerName(row.student);
const isOpen = (row: PileRow) => row.place !== 'with-student';

/** In CSS pixels, with its rule: for a mouse, and for a finger. */
const ROW_HEIGHT = 22;
const TOUCHED_ROW = 45;

/** On a telephone what else is to be known stands below the name, and the time of handing in only on the copy. */
const columnsFor = (most: number | null, scale: Scale, phone: boolean) =>
  column.columns([
    column.display({
      id: 'chosen',
      header: ({ table }) => (
        <SomeOrAll
          all={table.getRowModel().rows.length > 0 && table.getIsAllRowsSelected()}
          some={table.getIsSomeRowsSelected()}
          disabled={table.getRowModel().rows.length === 0}
          onChange={(all) => table.toggleAllRowsSelected(all)}
        />
      ),
      cell: ({ row }) => (
        <input
          type="checkbox"
          className="block size-3.5 accent-action pointer-coarse:size-6"
          aria-label={`Choose ${nameOf(row.original)}`}
          checked={row.getIsSelected()}
          onChange={() => row.toggleSelected()}
        />
      ),
    }),
    column.display({
      id: 'sign',
      header: () => <span className="sr-only">Sign</span>,
      cell: ({ row }) => <PlaceGlyph place={row.original.place} size={15} />,
    }),
    column.display({
      id: 'student',
      header: 'Student',
      cell: ({ row }) => (
        <>
          <Student row={row.original} />
          {phone && (
            <span className="block max-w-40 truncate text-xs font-normal text-soft">
              <Facts row={row.original} />
            </span>
          )}
        </>
      ),
    }),
    column.display({
      id: 'place',
      header: 'Status',
      cell: ({ row }) => <DoneCell row={row.original}>{PLACE_WORDS[row.original.place]}</DoneCell>,
    }),
    ...(phone
      ? []
      : [
          column.display({ id: 'when', header: 'Handed in', cell: ({ row }) => <When row={row.original} /> }),
          column.display({ id: 'facts', header: 'Details', cell: ({ row }) => <Facts row={row.original} /> }),
        ]),
    column.display({
      id: 'grade',
      header: 'Grade',
      cell: ({ row }) => <GradeCell row={row.original} most={most} scale={scale} />,
    }),
  ]);

const HEAD_CLASS: Readonly<Record<string, string>> = {
  chosen: 'w-8 py-0.5',
  sign: 'w-7',
  place: 'w-32 max-sm:w-20',
  when: 'w-28',
  facts: 'w-64',
  grade: 'w-16 text-right',
};
const CELL_CLASS: Readonly<Record<string, string>> = {
  student: 'font-medium pointer-coarse:[&_a]:py-2',
  place: 'text-soft',
  when: 'text-soft tabular',
  facts: 'max-w-64 truncate text-soft',
  grade: 'text-right',
};

/** One line a copy; thirty-two of them fit without scrolling, and of hundreds only those near the window are there. */
export function PileTable({ most, scale, rows, chosen, onChoose }: Props) {
  const phone = useMedia(PHONE);
  const touch = useMedia(TOUCH);
  const columns = useMemo(() => columnsFor(most, scale, phone), [most, scale, phone]);
  const rowSelection = useMemo(
    () => Object.fromEntries([...chosen].map((id) => [id, true as const])),
    [chosen],
  );
  const table = useTable({
    features,
    columns,
    data: rows,
    getRowId: (row) => row.copyId,
    state: { rowSelection },
    onRowSelectionChange: (next) => {
      const now = typeof next === 'function' ? next(rowSelection) : next;
      onChoose(new Set((Object.keys(now) as CopyId[]).filter((id) => now[id])));
    },
  });
  const body = useRef<HTMLTableSectionElement>(null);
  const all = table.getRowModel().rows;
  const { from, to, before, after } = useRowsInSight(all.length, touch ? TOUCHED_ROW : ROW_HEIGHT, body);
  return (
    <table className="w-full border-collapse text-[14px]" aria-rowcount={all.length + 1}>
      <thead className="text-left text-xs text-soft">
        {table.getHeaderGroups().map((group) => (
          <tr key={group.id} className="border-b border-line-strong">
            {group.headers.map((header) => (
              <th key={header.id} className={`font-normal ${HEAD_CLASS[header.column.id] ?? ''}`}>
                <table.FlexRender header={header} />
              </th>
            ))}
          </tr>
        ))}
      </thead>
      <tbody ref={body}>
        {before > 0 && <tr style={{ height: before }} />}
        {all.slice(from, to).map((row, i) => (
          <Line
            key={row.id}
            line={row}
            row={row.original}
            most={most}
            chosen={row.getIsSelected()}
            at={from + i + 2}
          />
        ))}
        {after > 0 && <tr style={{ height: after }} />}
      </tbody>
    </table>
  );
}

interface LineProps {
  readonly line: PileTableRow;
  readonly row: PileRow;
  readonly most: number | null;
  readonly chosen: boolean;
  /** Its place in the whole table, the head counted. */
  readonly at: number;
}

/** Renders again only when something about this one copy is new: a pile of four hundred stays quick under the keys. */
const Line = memo(
  function Line({ line, row, chosen, at }: LineProps) {
    return (
      <tr
        aria-rowindex={at}
        data-copy={row.copyId}
        className={`h-[21px] pointer-coarse:h-11 border-b border-line ${isOpen(row) ? 'hover:bg-action-wash' : 'text-soft'} ${chosen ? 'bg-action-wash' : ''}`}
      >
        {line.getAllCells().map((cell) => (
          <td key={cell.id} className={CELL_CLASS[cell.column.id]}>
            <FlexRender cell={cell} />
          </td>
        ))}
      </tr>
    );
  },
  (a, b) => a.row === b.row && a.chosen === b.chosen && a.at === b.at && a.most === b.most,
);

function Student({ row }: { row: PileRow }) {
  const prepare = usePrepare();
  return (
    <Link
      to={addressOfCopy(row)}
      {...(row.handInId ? prepare(row.copyId) : {})}
      className="block hover:text-action hover:underline"
    >
      {nameOf(row)}
    </Link>
  );
}

function When({ row }: { row: PileRow }) {
  const { clock } = useHere();
  return row.handedInAt === null ? '' : clock.moment(row.handedInAt, Date.now());
}

function SomeOrAll({
  all,
  some,
  disabled,
  onChange,
}: {
  all: boolean;
  some: boolean;
  disabled: boolean;
  onChange(all: boolean): void;
}) {
  const box = useRef<HTMLInputElement>(null);
  useEffect(() => {
    if (box.current) box.current.indeterminate = some && !all;
  }, [some, all]);
  return (
    <input
      ref={box}
      type="checkbox"
      className="block size-3.5 accent-action pointer-coarse:size-6"
      aria-label="Choose all"
      checked={all}
      disabled={disabled}
      onChange={(e) => onChange(e.target.checked)}
    />
  );
}

function Facts({ row }: { row: PileRow }) {
  const facts: { text: string; caution: boolean }[] = [];
  const late = lateWords(row.late);
  if (late) facts.push({ text: late, caution: true });
  if (row.overdue) facts.push({ text: 'overdue', caution: true });
  if (isUnopened(row)) facts.push({ text: 'not opened yet', caution: false });
  if (row.excused) facts.push({ text: 'excused', caution: false });
  if (row.unread) facts.push({ text: plural(row.unread, 'new message', 'new messages'), caution: true });
  if (row.reading && row.reading.state !== 'done')
    facts.push(
      row.reading.state === 'failed'
        ? { text: 'pages cannot be read', caution: true }
        : {
            text: row.reading.total
              ? `reading page ${row.reading.done} of ${row.reading.total}`
              : 'pages wait to be read',
            caution: false,
          },
    );
  else if (row.pages !== null && row.pages > 0) facts.push({ text: `${row.pages} p.`, caution: false });
  else if (row.place !== 'with-student')
    facts.push({
      text: row.documents ? plural(row.documents, 'thing', 'things') : 'called done',
      caution: false,
    });
  if (row.back) {
    if (row.back.unfinished && row.place !== 'handed-back')
      facts.push({ text: 'comments went back', caution: false });
    facts.push(
      row.back.seenAt === null
        ? { text: 'not looked at', caution: false }
        : {
            text: row.back.notes ? `${row.back.done} of ${row.back.notes} done` : 'looked at',
            caution: false,
          },
    );
    if (row.back.seenAt !== null && row.back.recordings > 0)
      facts.push({ text: `${row.back.heard} of ${row.back.recordings} heard`, caution: false });
  }
  if (row.recalledAt !== null) facts.push({ text: 'recalled', caution: true });
  if (row.place === 'marked' && row.grade === null) facts.push({ text: 'no grade', caution: true });
  return facts.map((f, i) => (
    <span key={f.text} className={f.caution ? 'text-caution' : undefined}>
      {i > 0 && ' · '}
      {f.text}
    </span>
  ));
}
