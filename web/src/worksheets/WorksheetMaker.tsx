import {
  type AssignmentId,
  alignQuestions,
  type Box,
  duplicateQuestions,
  type Edge,
  type FoundPlace,
  findPlaces,
  formatPoints,
  type Grip,
  inPageOrder,
  NO_SHAPES,
  numberQuestions,
  pageSize,
  pullBox,
  type Question,
  type QuestionId,
  readLabel,
  shiftBox,
  sumOfPoints,
  WorksheetId,
  type WorksheetShape,
} from '@jotmark/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Redo2, Undo2 } from 'lucide-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import { CallFailed, call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { tell } from '../ask/stale.ts';
import { IconButton } from '../frame/IconButton.tsx';
import { Trouble, Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { usePageInView, useZoom } from '../hand/useZoom.ts';
import { newId } from '../outbox/new-id.ts';
import { NO_PAGES } from '../paper/Enclosures.tsx';
import { PageSheet } from '../paper/PageSheet.tsx';
import { usePageList, usePageTexts } from '../paper/page-list.ts';
import { plural } from '../time/words.ts';
import { QuestionList } from './QuestionList.tsx';
import { RegionLayer } from './RegionLayer.tsx';
import { useQuestions } from './useQuestions.ts';

/** Who comes: a teacher whose file has become pages. Takes the offered places, mends a few, sees the points add up. */
export function WorksheetRoute() {
  const parsed = WorksheetId.safeParse(useParams().worksheetId);
  const worksheet = useQuery({
    queryKey: keys.worksheet(parsed.data ?? ('' as WorksheetId)),
    queryFn: () => call('worksheet', { params: { worksheetId: parsed.data! } }),
    enabled: parsed.success,
    refetchOnWindowFocus: false,
    refetchInterval: (query) => {
      const document = query.state.data?.document;
      return document?.shows === 'pages' && ['queued', 'running'].includes(document.reading.state)
        ? 700
        : false;
    },
  });
  const data = worksheet.data;
  const reading = data?.document.reading.state;
  const bar = (
    <TopBar crumbs={[{ text: 'Worksheets', to: '/worksheets' }, { text: data?.name ?? 'Worksheet' }]} />
  );
  if (!parsed.success || worksheet.error)
    return (
      <>
        {bar}
        <Trouble error={worksheet.error ?? new CallFailed('not-found')} again={() => worksheet.refetch()} />
      </>
    );
  if (!data || reading === 'queued' || reading === 'running')
    return (
      <>
        {bar}
        <Making progress={data?.document.reading ?? null} />
      </>
    );
  if (data.document.shows !== 'pages' || reading === 'failed')
    return (
      <>
        {bar}
        <p role="alert" className="mx-auto mt-16 max-w-xl rounded-lg bg-raised p-8 shadow-sm">
          {NO_PAGES[data.document.trouble ?? 'not-converted']}
        </p>
      </>
    );
  return <WorksheetMaker key={data.id} worksheet={data} />;
}

function Making({ progress }: { progress: { done: number; total: number } | null }) {
  return (
    <div role="status" className="mx-auto mt-24 w-72 text-center text-soft">
      Making the pages{progress?.total ? `: ${progress.done} of ${progress.total}` : ' …'}
      <progress className="mt-3 w-full" max={progress?.total || 1} value={progress?.done ?? 0} />
    </div>
  );
}

function WorksheetMaker({ worksheet }: { worksheet: WorksheetShape }) {
  const [search] = useSearchParams();
  const forAssignment = search.get('for');
  const documents = useMemo(() => [worksheet.document], [worksheet.document]);
  const { pages } = usePageList(documents);
  const texts = usePageTexts(pages);
  const shapes = useQuery({
    queryKey: keys.document(worksheet.document.id, 'shapes'),
    queryFn: () => call('documentShapes', { params: { documentId: worksheet.document.id } }),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const { questions, change, undo, redo, canUndo, canRedo, error, saving } = useQuestions(worksheet);
  const [chosen, setChosen] = useState<readonly QuestionId[]>([]);
  const scroller = useRef<HTMLDivElement>(null);
  const ready = pages.length > 0;
  const { zoom, measured } = useZoom(scroller, pages, ready, 40);
  const pageNow = usePageInView(scroller, ready);
  const numbers = useMemo(() => numberQuestions(questions), [questions]);
  const sizeOf = (page: number) => {
    const [width, height] = pages[page] ? pageSize(pages[page].frame) : [595, 842];
    return { width, height };
  };

  const offered = useMemo(() => {
    if (!shapes.data) return [];
    return pages.flatMap((p, i) => {
      const text = texts[i];
      if (!text) return [];
      const [width, height] = pageSize(p.frame);
      return findPlaces(p.page, text, shapes.data[p.page] ?? NO_SHAPES, { width, height });
    });
  }, [pages, texts, shapes.data]);
  const free = useMemo(
    () => offered.filter((o) => !questions.some((q) => q.page === o.page && touch(q.box, o.box))),
    [offered, questions],
  );

  const taken = (places: readonly FoundPlace[]): Question[] =>
    places.map((place) => ({
      id: newId<QuestionId>(),
      page: place.page,
      box: place.box,
      part: place.label !== null && /[a-z]$/i.test(place.label),
      label: place.label,
      points: place.points,
      answer: place.answer,
    }));
  const takeAll = () => {
    if (free.length === 0) return;
    const made = taken(free);
    change((now) => [...now, ...settleLabels(made)]);
    setChosen([]);
  };
  const add = (page: number, box: Box) => {
    const id = newId<QuestionId>();
    const height = box[3] - box[1];
    change((now) => [
      ...now,
      {
        id,
        page,
        box,
        part: false,
        label: null,
        points: null,
        answer: height > 40 ? { kind: 'paragraph', lines: null } : { kind: 'line' },
      },
    ]);
    setChosen([id]);
  };
  const edit = (id: QuestionId, part: Partial<Question>, merge?: string) =>
    change((now) => now.map((q) => (q.id === id ? { ...q, ...part } : q)), merge ?? null);
  const remove = (ids: readonly QuestionId[]) => {
    change((now) => now.filter((q) => !ids.includes(q.id)));
    setChosen([]);
  };
  const boxes = (next: ReadonlyMap<QuestionId, Box>, merge: string) =>
    change((now) => now.map((q) => (next.has(q.id) ? { ...q, box: next.get(q.id)! } : q)), merge);
  const nudge = (dx: number, dy: number, grip: Grip | null) =>
    boxes(
      new Map(
        questions
          .filter((q) => chosen.includes(q.id))
          .map((q) => [
            q.id,
            grip ? pullBox(q.box, grip, dx, dy, sizeOf(q.page)) : shiftBox(q.box, dx, dy, sizeOf(q.page)),
          ]),
      ),
      `nudge:${chosen.join()}:${grip ?? ''}`,
    );
  const duplicate = () => {
    const made = duplicateQuestions(questions, chosen, () => newId<QuestionId>(), sizeOf);
    change(() => made.questions);
    setChosen(made.made);
  };
  const align = (edge: Edge) => change((now) => alignQuestions(now, chosen, edge, sizeOf));
  const newByKey = () => {
    const here = inPageOrder(questions.filter((q) => q.page === pageNow)).at(-1);
    const { width, height } = sizeOf(pageNow);
    const top = Math.min(height - 60, here ? here.box[3] + 20 : 80);
    add(pageNow, [60, top, Math.min(width - 60, 360), top + 28]);
  };
  useMakerKeys({
    takeAll,
    newByKey,
    undo,
    redo,
    remove: () => remove(chosen),
    duplicate: () => chosen.length > 0 && duplicate(),
    nudge: (dx, dy, grip) => chosen.length > 0 && nudge(dx, dy, grip),
    letGo: () => setChosen([]),
    all: () => setChosen(questions.filter((q) => q.page === pageNow).map((q) => q.id)),
  });
  const onPage = useMemo(
    () => pages.map((p) => questions.filter((q) => q.page === p.page)),
    [pages, questions],
  );
  return (
    <div className="flex h-full flex-col">
      <TopBar
        crumbs={[
          forAssignment
            ? { text: 'Back to the work', to: `/assignments/${forAssignment}` }
            : { text: 'Worksheets', to: '/worksheets' },
          { text: worksheet.name },
        ]}
      >
        <span role="status" className="text-sm text-soft">
          {error ? 'Not saved' : saving ? 'Saving …' : 'Saved'}
        </span>
        <span className="flex text-soft">
          <IconButton label="Undo" icon={Undo2} disabled={!canUndo} onClick={undo} />
          <IconButton label="Redo" icon={Redo2} disabled={!canRedo} onClick={redo} />
        </span>
      </TopBar>
      <main className="flex min-h-0 flex-1">
        <div
          ref={scroller}
          data-scroller
          tabIndex={-1}
          role="region"
          aria-label="Pages of the worksheet"
          className="min-w-0 flex-1 overflow-auto p-5 pl-12"
        >
          {!ready && <Waiting what="the pages" />}
          {measured && (
            <div className="mx-auto flex w-max flex-col gap-5">
              {pages.map((p, i) => (
                <div key={p.page} className="shadow-md">
                  <PageSheet
                    document={p.document}
                    page={p.page}
                    index={i}
                    frame={p.frame}
                    turn={p.turn}
                    zoom={zoom}
                    marks={NO_MARKS}
                    label={`Page ${i + 1} of ${pages.length}`}
                  >
                    <RegionLayer
                      page={p}
                      zoom={zoom}
                      questions={onPage[i] ?? []}
                      numbers={numbers}
                      chosen={chosen}
                      offered={free.filter((o) => o.page === p.page)}
                      onChoose={setChosen}
                      onDraw={(box) => add(p.page, box)}
                      onBoxes={boxes}
                      onTake={(place) => change((now) => [...now, ...taken([place])])}
                    />
                  </PageSheet>
                </div>
              ))}
            </div>
          )}
        </div>
        <aside
          className="flex w-[340px] shrink-0 flex-col gap-4 overflow-y-auto border-l border-line bg-tray p-4"
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
            <button type="button" className="act" onClick={takeAll}>
              Take all {plural(free.length, 'offered place', 'offered places')}{' '}
              <span className="ml-1 font-normal opacity-80">A</span>
            </button>
          )}
          {questions.length === 0 ? (
            <p className="text-soft">
              {free.length
                ? 'Dotted frames are places where an answer could go. Take all of them, or one by a click. Draw others with the pointer.'
                : 'Draw a frame round the place of each answer; it numbers itself. Key N makes one where you are.'}
            </p>
          ) : (
            <>
              {chosen.length > 1 && <AlignTools count={chosen.length} onAlign={align} />}
              <QuestionList
                questions={questions}
                numbers={numbers}
                chosen={chosen}
                onChoose={(id) => {
                  setChosen([id]);
                  document.querySelector(`[data-region="${id}"]`)?.scrollIntoView({ block: 'center' });
                }}
                onChange={edit}
                onRemove={(id) => remove([id])}
              />
            </>
          )}
          <Rename worksheet={worksheet} />
          <KeyHints />
        </aside>
      </main>
    </div>
  );
}

const NO_MARKS: never[] = [];

const touch = (a: Box, b: Box) =>
  Math.min(a[2], b[2]) - Math.max(a[0], b[0]) > 4 && Math.min(a[3], b[3]) - Math.max(a[1], b[1]) > 4;

/** Labels that say what numbering says anyway are left to it, so that later questions move up by themselves. */
function settleLabels(made: readonly Question[]): Question[] {
  const alone = numberQuestions(made.map((q) => ({ ...q, label: null })));
  const agree = made.every(
    (q) => q.label === null || readLabel(q.label) === null || alone.get(q.id) === q.label,
  );
  return made.map((q) => (agree ? { ...q, label: null } : q));
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
      {plural(questions.length, 'point in 1 question', `points in ${questions.length} questions`).replace(
        /^\d+ /,
        '',
      )}
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
    ['A', 'take all offered'],
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

interface MakerKeys {
  takeAll(): void;
  newByKey(): void;
  undo(): void;
  redo(): void;
  remove(): void;
  duplicate(): void;
  nudge(dx: number, dy: number, grip: Grip | null): void;
  letGo(): void;
  all(): void;
}

const ARROWS: Readonly<Record<string, readonly [number, number, Grip]>> = {
  ArrowLeft: [-1, 0, 'e'],
  ArrowRight: [1, 0, 'e'],
  ArrowUp: [0, -1, 's'],
  ArrowDown: [0, 1, 's'],
};

function useMakerKeys(keys: MakerKeys): void {
  const newest = useRef(keys);
  newest.current = keys;
  useEffect(() => {
    const heard = (e: KeyboardEvent) => {
      if ((e.target as HTMLElement).matches('input, textarea, select, [contenteditable]')) return;
      if (handleKey(e, newest.current)) e.preventDefault();
    };
    window.addEventListener('keydown', heard);
    return () => window.removeEventListener('keydown', heard);
  }, []);
}

/** Whether the key was ours. */
function handleKey(e: KeyboardEvent, k: MakerKeys): boolean {
  const key = e.key.toLowerCase();
  const arrow = ARROWS[e.key];
  if (e.ctrlKey || e.metaKey) {
    const act = { z: e.shiftKey ? k.redo : k.undo, y: k.redo, d: k.duplicate, a: k.all }[key];
    act?.();
    return act !== undefined;
  }
  if (arrow) {
    const far = e.shiftKey ? 10 : 1;
    k.nudge(arrow[0] * far, arrow[1] * far, e.altKey ? arrow[2] : null);
    return true;
  }
  const act = { a: k.takeAll, n: k.newByKey, delete: k.remove, backspace: k.remove, escape: k.letGo }[key];
  act?.();
  return act !== undefined;
}
