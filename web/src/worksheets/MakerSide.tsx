import {
  type AssignmentId,
  type Edge,
  formatPoints,
  type Question,
  sumOfPoints,
  type WorksheetShape,
} from '@jotmark/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { tell } from '../ask/stale.ts';
import { plural } from '../time/words.ts';
import { QuestionList } from './QuestionList.tsx';
import { useAnswerKeys } from './useAnswerKeys.ts';
import type { Maker } from './useMaker.ts';

/** Beside the pages of a worksheet: its points, what is offered, its questions as a list, its name. */
export function MakerSide({ m, forAssignment }: { m: Maker; forAssignment: string | null }) {
  const { worksheet, questions, free, chosen } = m;
  const { error } = m.editing;
  const saveKey = useAnswerKeys(worksheet.id);
  return (
    <aside
      className="flex w-[340px] shrink-0 flex-col gap-4 overflow-y-auto border-l border-line bg-tray p-4 max-sm:w-full max-sm:border-t max-sm:border-l-0"
      aria-label="Questions and points"
    >
      {error && (
        <p role="alert" className="text-caution">
          {sentenceOf(error)}
        </p>
      )}
      <Sum questions={questions} assignmentId={forAssignment} />
      {worksheet.handedOut && (
        <p className="rounded-lg bg-margin p-3 text-sm">
          Copies of version {worksheet.number} are out and keep it. What you change here becomes version{' '}
          {worksheet.number + 1}.
        </p>
      )}
      {free.length > 0 && (
        <button type="button" className="act" onClick={m.takeAll}>
          Accept all {plural(free.length, 'place', 'places')}{' '}
          <span className="ml-1 font-normal opacity-80">A</span>
        </button>
      )}
      {questions.length === 0 ? (
        <p className="text-soft">
          {free.length
            ? 'Dotted frames are places where an answer could go. Accept all of them, or one by a click. Draw others with the pointer.'
            : 'Draw a frame round the place of each answer; it numbers itself. Key N makes one where you are.'}
        </p>
      ) : (
        <>
          {chosen.length > 1 && <AlignTools count={chosen.length} onAlign={m.align} />}
          <QuestionList
            questions={questions}
            numbers={m.numbers}
            chosen={chosen}
            keys={worksheet.keys}
            onKey={saveKey}
            onChoose={(id) => {
              m.choose([id]);
              document.querySelector(`[data-region="${id}"]`)?.scrollIntoView({ block: 'center' });
            }}
            onChange={m.edit}
            onRemove={(id) => m.remove([id])}
          />
        </>
      )}
      <Rename worksheet={worksheet} />
      <KeyHints />
    </aside>
  );
}

/** The points of all questions, beside those of the work they are for. */
function Sum({ questions, assignmentId }: { questions: readonly Question[]; assignmentId: string | null }) {
  const assignment = useQuery({
    queryKey: keys.assignment((assignmentId ?? '') as AssignmentId),
    queryFn: () => call('assignment', { params: { assignmentId: assignmentId as never } }),
    enabled: assignmentId !== null,
  });
  const sum = sumOfPoints(questions);
  const most = assignment.data?.words.most;
  const differs = most !== undefined && most !== sum;
  return (
    <p
      role="status"
      aria-label="Points"
      className={`rounded-lg bg-raised p-3 ${differs ? 'text-caution' : ''}`}
    >
      <span className="text-2xl font-bold tabular">{formatPoints(sum)}</span>{' '}
      {sum === 100 ? 'point' : 'points'} in {plural(questions.length, 'question', 'questions')}
      {most !== undefined && (
        <span className="block text-sm">
          {most === null ? 'The work is ungraded.' : `The work has ${formatPoints(most)} points.`}
          {differs && (
            <Link to={`/assignments/${assignmentId}`} className="ml-1 text-action underline">
              Make it fit
            </Link>
          )}
        </span>
      )}
    </p>
  );
}

const EDGES: readonly [Edge, string][] = [
  ['left', 'Left edges'],
  ['right', 'Right edges'],
  ['top', 'Tops'],
  ['bottom', 'Bottoms'],
  ['width', 'Same width'],
  ['height', 'Same height'],
];

function AlignTools({ count, onAlign }: { count: number; onAlign(edge: Edge): void }) {
  return (
    <div role="toolbar" aria-label="Line up" className="rounded-lg bg-raised p-3">
      <p className="text-sm text-soft">{count} chosen. Line them up with the first:</p>
      <div className="mt-2 flex flex-wrap gap-1.5">
        {EDGES.map(([edge, words]) => (
          <button
            key={edge}
            type="button"
            className="quiet !min-h-8 !px-2 !py-0.5 text-sm"
            onClick={() => onAlign(edge)}
          >
            {words}
          </button>
        ))}
      </div>
    </div>
  );
}

function Rename({ worksheet }: { worksheet: WorksheetShape }) {
  const client = useQueryClient();
  const [name, setName] = useState(worksheet.name);
  const save = useMutation({
    mutationFn: () =>
      call('renameWorksheet', { params: { worksheetId: worksheet.id }, body: { name: name.trim() } }),
    onSuccess: () => {
      tell(client, 'worksheetChanged', {});
      client.setQueryData(
        keys.worksheet(worksheet.id),
        (old: WorksheetShape | undefined) => old && { ...old, name: name.trim() },
      );
    },
  });
  return (
    <label className="block">
      <span className="text-sm text-soft">
        Name of the worksheet, on every copy with the student’s name behind it
      </span>
      <input
        className="field mt-1"
        maxLength={200}
        value={name}
        onChange={(e) => setName(e.target.value)}
        onBlur={() => name.trim() && name.trim() !== worksheet.name && save.mutate()}
      />
    </label>
  );
}

function KeyHints() {
  const keys: readonly [string, string][] = [
    ['A', 'accept all places found'],
    ['N', 'new question'],
    ['Tab', 'next question'],
    ['arrows', 'move (Shift: further)'],
    ['Alt arrows', 'make larger or smaller'],
    ['Ctrl D', 'duplicate'],
    ['Del', 'take away'],
    ['Ctrl Z', 'undo'],
  ];
  return (
    <details className="text-sm text-soft">
      <summary className="cursor-pointer">Keys</summary>
      <dl className="mt-2 grid grid-cols-[6rem_1fr] gap-y-1">
        {keys.map(([key, what]) => (
          <div key={key} className="contents">
            <dt>
              <span className="key">{key}</span>
            </dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
    </details>
  );
}
