import {
  BITE,
  type ClassId,
  type Credentials,
  MOST_ROSTER,
  MOST_STUDENTS,
  type RosterPlan,
} from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { useEffect, useId, useRef, useState } from 'react';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { FileInput } from '../frame/FileInput.tsx';
import { off } from '../frame/off.ts';
import { plural } from '../time/words.ts';
import { type Correction, type Line, loginTrouble, PlanTable } from './PlanTable.tsx';

const TROUBLE: Readonly<Record<NonNullable<RosterPlan['trouble']>, (count: number) => string>> = {
  empty: () => 'There are no names in it. Nothing was changed.',
  'too-many': (n) =>
    `These are ${n.toLocaleString('en')} lines; a class has at most ${MOST_STUDENTS.toLocaleString('en')} students. Nothing was changed. Remove the lines that do not belong to this class.`,
  'too-long': () =>
    `That is more text than any class list has (over ${MOST_ROSTER.toLocaleString('en')} letters). Nothing was changed. Is it the right file?`,
};

interface Props {
  readonly classId: ClassId;
  readonly empty: boolean;
  /** Names that came from elsewhere, to be looked over first. */
  readonly given?: string;
  onAdded(): void;
  onSheet(sheet: Credentials[]): void;
}

/** After so long without typing what would change is shown, in milliseconds. */
const REST_MS = 700;

/** Students come in by pasting names or by a CSV file: first it is shown what would change and what is wrong in which line. */
export function AddStudents({ classId, empty, given = '', onAdded, onSheet }: Props) {
  const field = useId();
  const file = useRef<HTMLInputElement>(null);
  const [text, setText] = useState(given);
  const [progress, setProgress] = useState<{ done: number; total: number } | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const stop = useRef(false);
  /** What was corrected in the preview, by line. */
  const [changed, setChanged] = useState<ReadonlyMap<number, Correction>>(new Map());
  const plan = useMutation({
    mutationFn: (list: string) => call('planStudents', { params: { classId }, body: { text: list } }),
  });
  const lookedAt = useRef('');
  const look = (list: string) => {
    lookedAt.current = list;
    setTrouble(null);
    setChanged(new Map());
    plan.mutate(list.slice(0, MOST_ROSTER + 1));
  };
  useRested(text, () => {
    // What was looked at meanwhile, by the button or from a file, keeps what was corrected in it.
    if (text.trim() && text.length <= 20_000 && text !== lookedAt.current) look(text);
  });
  const fromFile = async (chosen: File | undefined) => {
    if (!chosen) return;
    const list = await readText(chosen);
    setText(list.length > 20_000 ? '' : list);
    look(list);
  };
  const add = async (lines: readonly Line[]) => {
    const made: Credentials[] = [];
    stop.current = false;
    try {
      for (let i = 0; i < lines.length && !stop.current; i += BITE) {
        setProgress({ done: i, total: lines.length });
        const students = lines
          .slice(i, i + BITE)
          .map(({ given, family, login, known }) => ({ given, family, login: known ?? login }));
        made.push(...(await call('addStudents', { params: { classId }, body: { students } })));
      }
      plan.reset();
      setText('');
    } catch (error) {
      setTrouble(
        `${sentenceOf(error)}${made.length ? ` The first ${made.length} of the list were added.` : ''}`,
      );
    } finally {
      setProgress(null);
      onAdded();
      if (made.some((m) => m.password)) onSheet(made.filter((m) => m.password));
    }
  };
  const planned = plan.data?.lines ?? [];
  const lines = planned.map((l) => ({ ...l, ...changed.get(l.line) }));
  const wrongLogins = loginTrouble(lines);
  const good = lines.filter((l) => l.outcome !== 'wrong' && l.outcome !== 'here');
  return (
    <section className="rounded-lg bg-raised p-5 shadow-sm" aria-label="Add students">
      <h2 className="font-bold">{empty ? 'Who is in this class?' : 'Add students'}</h2>
      <label htmlFor={field} className="text-sm text-soft">
        Names, one a line: Given Family, or Family, Given. Or CSV with the columns given, family, login.
      </label>
      <textarea
        id={field}
        className={`field mt-1 ${empty ? 'min-h-40' : 'min-h-20'}`}
        value={text}
        placeholder={'Ada Example\nBen Example'}
        onChange={(e) => {
          setText(e.target.value);
          plan.reset();
          lookedAt.current = '';
        }}
      />
      <div className="mt-3 flex flex-wrap gap-3">
        <button
          type="button"
          className="act"
          disabled={!text.trim() || plan.isPending}
          onClick={() => look(text)}
        >
          Preview
        </button>
        <button type="button" className="quiet" onClick={() => file.current?.click()}>
          Upload CSV
        </button>
        <FileInput
          at={file}
          accept=".csv,.txt,.tsv,text/csv,text/plain"
          label="CSV file with students"
          onFiles={(files) => fromFile(files[0])}
        />
      </div>
      {(plan.error || trouble) && (
        <p role="alert" className="mt-3 text-caution">
          {trouble ?? sentenceOf(plan.error)}
        </p>
      )}
      {plan.data?.trouble && (
        <p role="alert" className="mt-3 text-caution">
          {TROUBLE[plan.data.trouble](plan.data.count)}
        </p>
      )}
      {lines.length > 0 && (
        <div className="mt-4 border-t border-line pt-4">
          <PlanTable
            classId={classId}
            lines={lines}
            wrongLogins={wrongLogins}
            onCorrect={(line, part) =>
              setChanged(new Map(changed).set(line.line, { ...changed.get(line.line), ...part }))
            }
          />
          <div className="mt-4 flex items-center gap-3">
            {progress ? (
              <Adding
                {...progress}
                onStop={() => {
                  stop.current = true;
                }}
              />
            ) : (
              <>
                <button
                  type="button"
                  className="act"
                  {...off(
                    good.length === 0
                      ? 'No line of the list can be added.'
                      : (wrongLogins.size > 0 || good.some((l) => !l.given.trim())) &&
                          'A name or a login in the list still needs correcting.',
                  )}
                  onClick={() => add(good)}
                >
                  {good.length ? `Add ${plural(good.length, 'student', 'students')}` : 'Nobody to add'}
                </button>
                <button type="button" className="quiet" onClick={() => plan.reset()}>
                  Cancel
                </button>
              </>
            )}
          </div>
        </div>
      )}
    </section>
  );
}

/** Does something when one has stopped typing. */
function useRested(text: string, act: () => void): void {
  const now = useRef(act);
  now.current = act;
  useEffect(() => {
    const clock = setTimeout(() => now.current(), REST_MS);
    return () => clearTimeout(clock);
  }, [text]);
}

function Adding({ done, total, onStop }: { done: number; total: number; onStop(): void }) {
  return (
    <>
      <span role="status">
        Adding: {done} of {total}
      </span>
      <progress value={done} max={total} />
      <button type="button" className="quiet" onClick={onStop}>
        Stop
      </button>
    </>
  );
}

/** UTF-8, or the old encoding that some spreadsheets still write. */
async function readText(file: File): Promise<string> {
  const bytes = new Uint8Array(await file.slice(0, 4 * MOST_ROSTER).arrayBuffer());
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder('windows-1252').decode(bytes);
  }
}
