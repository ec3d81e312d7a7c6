import {
  AssignmentId,
  answeredIn,
  type CopyId,
  inPageOrder,
  inRoomOrder,
  isHere,
  MESSAGE_LIMIT,
  type MessageId,
  missesKey,
  numberQuestions,
  type Question,
  type QuestionId,
  type Room,
  type RoomOrder,
  type RoomRow,
  SILENT_MS,
  silenceOf,
} from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import { CallFailed, call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { off } from '../frame/off.ts';
import { Empty, Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { toast } from '../frame/toast.ts';
import { newId } from '../outbox/new-id.ts';
import { plural } from '../time/words.ts';
import { WordsField } from '../words/WordsField.tsx';
import { LivingSheet } from './LivingSheet.tsx';
import { silenceWords, whereabouts } from './room-words.ts';
import { useRoom } from './useRoom.ts';

/** Who comes: a teacher on their feet while the class works. Who is stuck, who has not begun, and a word to them. */
export function RoomView() {
  const parsed = AssignmentId.safeParse(useParams().assignmentId);
  const { room, line, now } = useRoom(parsed.success ? parsed.data : null);
  const title = room.data ? `${room.data.assignment.className}: ${room.data.assignment.title}` : 'Work';
  return (
    <div className="flex min-h-full flex-col">
      <TopBar
        crumbs={[
          { text: 'Today', to: '/' },
          ...(parsed.success ? [{ text: title, to: `/piles/${parsed.data}` }] : []),
          { text: 'Walk the room' },
        ]}
      >
        <span role="status" className={`text-sm ${line === 'live' ? 'text-soft' : 'text-caution'}`}>
          {line === 'live' ? 'Live' : 'Not live just now, trying again …'}
        </span>
      </TopBar>
      {!parsed.success || room.error ? (
        <Trouble error={room.error ?? new CallFailed('not-found')} again={() => room.refetch()} />
      ) : !room.data ? (
        <Waiting what="the room" />
      ) : room.data.rows.length === 0 ? (
        <Empty title="Nobody is here yet">
          When students get copies of this work, each of them has a place here.
        </Empty>
      ) : (
        <Floor room={room.data} now={now} />
      )}
    </div>
  );
}

const ORDERS: readonly (readonly [RoomOrder, string])[] = [
  ['name', 'by name'],
  ['progress', 'least done first'],
  ['silence', 'silent longest'],
  ['key', 'misses the key'],
];

function Floor({ room, now }: { room: Room; now: number }) {
  const [order, setOrder] = useState<RoomOrder>('name');
  const [one, setOne] = useState<QuestionId | null>(null);
  const [chosen, setChosen] = useState<ReadonlySet<CopyId>>(new Set());
  const questions = useMemo(
    () => room.sheets.flatMap((s) => inPageOrder(s.questions)).filter((q) => q.answer.kind !== 'none'),
    [room.sheets],
  );
  const numbers = useMemo(() => {
    const out = new Map<QuestionId, string>();
    for (const sheet of room.sheets) for (const [id, n] of numberQuestions(sheet.questions)) out.set(id, n);
    return out;
  }, [room.sheets]);
  const asked = useMemo(() => (one ? [one] : questions.map((q) => q.id)), [one, questions]);
  const rows = inRoomOrder(room.rows, order, asked, room.keys);
  const atWork = rows.filter((r) => r.place === 'with-student' && !r.excused);
  const here = rows.filter((r) => isHere(r, now)).length;
  const toggle = (id: CopyId) => {
    const next = new Set(chosen);
    if (!next.delete(id)) next.add(id);
    setChosen(next);
  };
  return (
    <main className="flex-1 p-4">
      <div className="flex flex-wrap items-center gap-x-5 gap-y-2">
        <p className="text-lg font-bold">
          {here} here
          <span className="ml-2 font-normal text-soft">
            {atWork.length} at work · {rows.length - atWork.length} handed in or excused
          </span>
        </p>
        <div
          role="group"
          aria-label="Order"
          className="flex overflow-hidden rounded-lg border border-line-strong"
        >
          {ORDERS.filter(([key]) => key !== 'key' || Object.keys(room.keys).length > 0).map(
            ([key, words]) => (
              <button
                key={key}
                type="button"
                aria-pressed={order === key}
                className={`px-3 py-1.5 text-sm ${order === key ? 'bg-action text-white' : 'bg-raised hover:bg-action-wash'}`}
                onClick={() => setOrder(key)}
              >
                {words}
              </button>
            ),
          )}
        </div>
        <label className="flex items-center gap-2 text-sm">
          Look at
          <select
            className="quiet !min-h-9 !py-1"
            value={one ?? ''}
            onChange={(e) => setOne((e.target.value || null) as QuestionId | null)}
          >
            <option value="">the whole copy</option>
            {questions.map((q) => (
              <option key={q.id} value={q.id}>
                question {numbers.get(q.id)} of everyone
              </option>
            ))}
          </select>
        </label>
        <SayToMany
          assignmentId={room.assignment.id}
          to={chosen.size ? rows.filter((r) => chosen.has(r.copyId)) : atWork}
          chosen={chosen.size > 0}
          onSaid={() => setChosen(new Set())}
        />
      </div>
      <ul
        className={`mt-4 grid gap-3 ${one ? 'grid-cols-[repeat(auto-fill,minmax(260px,1fr))]' : 'grid-cols-[repeat(auto-fill,minmax(186px,1fr))]'}`}
      >
        {rows.map((row) => (
          <Place
            key={row.copyId}
            row={row}
            room={room}
            questions={questions}
            numbers={numbers}
            one={one}
            now={now}
            chosen={chosen.has(row.copyId)}
            onChoose={() => toggle(row.copyId)}
          />
        ))}
      </ul>
    </main>
  );
}

interface PlaceProps {
  readonly row: RoomRow;
  readonly room: Room;
  readonly questions: readonly Question[];
  readonly numbers: ReadonlyMap<QuestionId, string>;
  readonly one: QuestionId | null;
  readonly now: number;
  readonly chosen: boolean;
  onChoose(): void;
}

/** One student's place: who, how far, where now, and since when nothing came. */
function Place({ row, room, questions, numbers, one, now, chosen, onChoose }: PlaceProps) {
  const name = `${row.student.given} ${row.student.family}`;
  const done = answeredIn(
    row,
    questions.map((q) => q.id),
  );
  const silence = silenceOf(row, now);
  const stuck = silence !== null && silence > SILENT_MS;
  const shown = row.answers.find((a) => a.question === (one ?? row.atQuestion));
  const missed = missesKey(row, room.keys, one ? [one] : questions.map((q) => q.id));
  return (
    <li
      className={`rounded-lg border p-3 ${chosen ? 'outline-2 outline-action' : ''} ${isHere(row, now) || row.place !== 'with-student' ? 'border-transparent bg-raised shadow-sm' : 'border-dashed border-line-strong bg-tray'}`}
      aria-label={name}
    >
      <div className="flex items-start gap-2">
        <input
          type="checkbox"
          className="mt-1 size-4 accent-action"
          aria-label={`Choose ${name}`}
          checked={chosen}
          onChange={onChoose}
        />
        <Link to={`/room/${room.assignment.id}/${row.copyId}`} className="min-w-0 flex-1 hover:text-action">
          <span className="block truncate font-bold">{name}</span>
          <span className="block text-xs text-soft">{whereabouts(row, done, questions.length, now)}</span>
        </Link>
        {row.unread > 0 && (
          <span className="rounded bg-caution px-1.5 text-xs font-bold text-white">
            {plural(row.unread, 'message', 'messages')}
          </span>
        )}
      </div>
      {!one && <LivingSheet row={row} sheets={room.sheets} />}
      <p
        className={`mt-1.5 overflow-hidden text-sm break-words ${one ? 'min-h-24 whitespace-pre-wrap' : 'line-clamp-2 min-h-10 text-soft'}`}
      >
        {shown ? (
          <>
            {!one && <span className="mr-1 font-bold text-text">{numbers.get(shown.question)}</span>}
            {shown.text}
            {shown.letters > shown.text.length && ' …'}
          </>
        ) : (
          one && <span className="text-soft">nothing yet</span>
        )}
      </p>
      {missed.length > 0 && (
        <p className="text-xs text-caution">
          misses the key: {missed.map((id) => numbers.get(id)).join(', ')}
        </p>
      )}
      <p className={`text-xs ${stuck ? 'font-bold text-caution' : 'text-soft'}`}>
        {silenceWords(row, silence)}
      </p>
    </li>
  );
}

function SayToMany({
  assignmentId,
  to,
  chosen,
  onSaid,
}: {
  assignmentId: AssignmentId;
  to: readonly RoomRow[];
  chosen: boolean;
  onSaid(): void;
}) {
  const [open, setOpen] = useState(false);
  const [words, setWords] = useState('');
  const say = useMutation({
    mutationFn: () =>
      call('sayToMany', {
        params: { assignmentId },
        body: { words: words.trim(), to: to.map((r) => ({ id: newId<MessageId>(), copyId: r.copyId })) },
      }),
    onSuccess: () => {
      toast.success(`Said to ${plural(to.length, 'student', 'students')}.`);
      setWords('');
      setOpen(false);
      onSaid();
    },
    onError: (error) => void toast.error(sentenceOf(error)),
  });
  const field = useRef<HTMLTextAreaElement | null>(null);
  useEffect(() => {
    if (open) field.current?.focus();
  }, [open]);
  const send = () => words.trim() && !say.isPending && say.mutate();
  const whom = chosen ? plural(to.length, 'chosen student', 'chosen students') : `all ${to.length} at work`;
  if (!open)
    return (
      <button
        type="button"
        className="act ml-auto"
        {...off(to.length === 0 && 'Nobody is at work now.')}
        onClick={() => setOpen(true)}
      >
        Write to {whom}
      </button>
    );
  return (
    <form
      className="ml-auto flex min-w-80 flex-1 items-end gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        send();
      }}
    >
      <div className="flex-1">
        <p className="text-sm text-soft">Message to {whom}, shown beside their work at once</p>
        <WordsField
          field={field}
          label={`Message to ${whom}`}
          className="field"
          most={MESSAGE_LIMIT}
          value={words}
          onValue={setWords}
          onSend={send}
          onKeyDown={(e) => e.key === 'Escape' && setOpen(false)}
        />
      </div>
      <button type="submit" className="act" disabled={!words.trim() || say.isPending}>
        Send
      </button>
    </form>
  );
}
