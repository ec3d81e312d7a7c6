import {
  type BookColumn,
  type BookRule,
  bookTotal,
  ClassId,
  type MarkBook,
  type PersonId,
  pastedCells,
} from '@jotmark/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useMemo } from 'react';
import { useParams } from 'react-router';
import { CallFailed, call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { toldAndRead } from '../ask/stale.ts';
import { useAtOnce } from '../ask/useAtOnce.ts';
import { Empty, Trouble, Waiting } from '../frame/states.tsx';
import { SHEETS, TakeOut } from '../frame/TakeOut.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { toast } from '../frame/toast.ts';
import { useKeys } from '../frame/useKeys.ts';
import { useOutbox } from '../outbox/useSheetKeeper.ts';
import { readGrade } from '../scores/read-typed.ts';
import { plural } from '../time/words.ts';
import { BookRuleForm } from './BookRuleForm.tsx';
import { BookTable } from './BookTable.tsx';
import { BookTools } from './BookTools.tsx';
import { BringGrades } from './BringGrades.tsx';
import { useBookView } from './useBookView.ts';
import { isOpen, type OpenCell, useBookWrites, withWaiting } from './useBookWrites.ts';

/** Who comes: a teacher at the end of a week or a term. Where does each child stand; what is missing; a grade typed in passing. */
export function MarkBookView() {
  const parsed = ClassId.safeParse(useParams().classId);
  const book = useQuery({
    queryKey: keys.markBook(parsed.data),
    queryFn: () => call('markBook', { params: { classId: parsed.data! } }),
    enabled: parsed.success,
    refetchInterval: 60_000,
  });
  return (
    <div className="flex h-full flex-col">
      <TopBar
        crumbs={[
          { text: 'Classes', to: '/classes' },
          ...(book.data ? [{ text: book.data.className, to: `/classes/${parsed.data}` }] : []),
          { text: 'Mark book' },
        ]}
      >
        {book.data && parsed.success && <BringGrades classId={parsed.data} book={book.data} />}
        {book.data && parsed.success && (
          <TakeOut
            ways={SHEETS.map(([as, label]) => ({
              label: `Mark book as ${label}`,
              order: { what: 'mark-book', classId: parsed.data, as },
            }))}
          />
        )}
      </TopBar>
      {!parsed.success || book.error ? (
        <Trouble error={book.error ?? new CallFailed('not-found')} again={() => book.refetch()} />
      ) : !book.data ? (
        <Waiting what="the mark book" />
      ) : book.data.columns.length === 0 || book.data.students.length === 0 ? (
        <Empty title="Nothing to show yet">
          As soon as this class has students and work that was handed out, their grades stand here.
        </Empty>
      ) : (
        <Book book={book.data} classId={parsed.data} />
      )}
    </div>
  );
}

function Book({ book, classId }: { book: MarkBook; classId: ClassId }) {
  const client = useQueryClient();
  const writes = useBookWrites(classId);
  const waits = useOutbox();
  const keep = useMutation({
    mutationFn: (next: BookRule) => call('saveBookRule', { params: { classId }, body: { rule: next } }),
    onError: (error) => toast.error(sentenceOf(error)),
    onSettled: () => toldAndRead(client, 'bookChanged', { classId }),
  });
  const [rule, setRule] = useAtOnce(book.rule, keep.mutateAsync);
  const view = useBookView(classId, book.columns, rule);
  const { order, counted, shown: columns } = view;
  const categories = useMemo(() => [...new Set(book.columns.map((c) => c.category))].sort(), [book.columns]);
  const cells = useMemo(
    () => new Map(book.cells.map((c) => [`${c.personId}/${c.assignmentId}`, withWaiting(c)])),
    // What waits is part of what is shown.
    [book.cells, waits],
  );
  const cellOf = (person: PersonId, c: BookColumn) => cells.get(`${person}/${c.id}`);
  const students = useMemo(() => {
    if (order === 'name') return book.students;
    const total = (id: PersonId) =>
      bookTotal(
        counted.flatMap((c) => {
          const cell = cells.get(`${id}/${c.id}`);
          return cell ? [{ ...cell, category: c.category, most: c.most }] : [];
        }),
        rule,
      ).percent;
    const value = (id: PersonId) =>
      (order === 'total' ? total(id) : cells.get(`${id}/${order}`)?.grade) ?? -1;
    return [...book.students].sort((a, b) => value(b.id) - value(a.id));
  }, [book.students, order, counted, cells, rule]);
  const undo = () => {
    const count = writes.undo();
    if (count) toast(`${plural(count, 'grade is', 'grades are')} as before.`);
    return count > 0;
  };
  useKeys([{ keys: '$mod+z', does: undo, inFields: (field) => field.closest('table') !== null }]);
  const paste = (row: number, column: number, text: string) => {
    const wrong: string[] = [];
    const all: { cell: OpenCell; value: number | null }[] = [];
    pastedCells(text).forEach((line, down) => {
      line.forEach((typed, right) => {
        const [s, c] = [students[row + down], columns[column + right]];
        const cell = s && c && cellOf(s.id, c);
        if (!s || !c || typed === '') return;
        const read = c.most === null ? null : readGrade(typed, c.most, c.scale);
        if (isOpen(cell) && read?.ok) all.push({ cell, value: read.value });
        else wrong.push(`${s.given}: “${typed.slice(0, 20)}”`);
      });
    });
    const count = writes.grades(all);
    const told = wrong.length
      ? ` ${plural(wrong.length, 'was', 'were')} not taken: ${wrong.slice(0, 5).join(', ')}${wrong.length > 5 ? ' …' : ''}`
      : '';
    toast(`${plural(count, 'grade', 'grades')} pasted.${told}`, {
      action: { label: 'Undo', onClick: undo },
      duration: wrong.length ? 20_000 : 6000,
    });
  };
  return (
    <main className="flex min-h-0 flex-1 flex-col gap-3 p-4">
      <div className="flex flex-wrap items-start gap-x-4 gap-y-2">
        <BookTools view={view} columns={book.columns} rule={rule} categories={categories} />
        <BookRuleForm rule={rule} categories={categories} onChange={setRule} />
        <p className="ml-auto text-sm text-soft">
          Bold: handed back. <i>Slanted: still held.</i> A sheet: where the copy is.
        </p>
      </div>
      <div
        role="region"
        aria-label="Grades"
        tabIndex={-1}
        className="min-h-0 flex-1 overflow-auto rounded-lg bg-raised shadow-sm"
      >
        <BookTable
          students={students}
          columns={columns}
          counted={counted}
          logAt={(id) => `/classes/${classId}/log/${id}`}
          rule={rule}
          cellOf={cellOf}
          onGrade={(cell, value) => writes.grades([{ cell, value }])}
          onPaste={paste}
        />
      </div>
    </main>
  );
}
