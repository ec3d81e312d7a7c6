import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { type ComponentType, type ReactNode, Suspense, useEffect } from 'react';
import { BrowserRouter, Navigate, Route, Routes, useLocation } from 'react-router';
import { CallFailed } from '../api/call.ts';
import { onDemand } from '../frame/on-demand.tsx';
import { type OnDevice, SessionProvider, useHere } from '../frame/session.tsx';
import { Trouble, Waiting } from '../frame/states.tsx';
import { TipLayer } from '../frame/TipLayer.tsx';
import { Toasts } from '../frame/Toasts.tsx';
import { toast } from '../frame/toast.ts';
import { OutboxLine } from '../outbox/OutboxLine.tsx';
import { LeftTakes } from '../voice/LeftTakes.tsx';
import { GhostsHere } from '../words/ghosts.ts';
import { Fallen } from './Fallen.tsx';
import { wasLoadedAnew } from './later.tsx';
import { NewsLine } from './NewsLine.tsx';
import { schoolViews, studentViews, teacherViews, views } from './views.ts';

const client = new QueryClient({
  defaultOptions: {
    queries: {
      // Only a silent network is worth asking again; a refusal stays one.
      retry: (count, error) =>
        count < 2 &&
        error instanceof CallFailed &&
        (error.code === 'offline' || error.code === 'database-away'),
    },
  },
});

/** Shows a view to whom it is for; others go to where they can sign in, or are told. */
function For({ only, children }: { only: 'teacher' | 'student'; children: ReactNode }) {
  const { session } = useHere();
  const { pathname } = useLocation();
  if (!session.person) return <Navigate to="/sign-in" replace state={{ from: pathname }} />;
  if (session.person.role !== only) return <Trouble error={new CallFailed('not-yours')} />;
  return children;
}

/** Where a teacher writes, the phrases of the bank are at hand. */
const PhrasesAnywhere = onDemand(() => import('../bank/PhraseGhosts.tsx').then((m) => m.PhrasesAnywhere), {
  quiet: true,
});

type Shown = readonly (readonly [path: string, view: ComponentType])[];

const TEACHERS: Shown = [
  ['/piles/:assignmentId', teacherViews.pile],
  ['/desk/:copyId', teacherViews.desk],
  ['/desk/:copyId/as-student', teacherViews.backPreview],
  ['/post', teacherViews.post],
  ['/trial/:copyId', teacherViews.trial],
  ['/score/:copyId', teacherViews.score],
  ['/piles/:assignmentId/scores', teacherViews.scoreTable],
  ['/piles/:assignmentId/even-out', teacherViews.evenOut],
  ['/piles/:assignmentId/across/:questionId', teacherViews.across],
  ['/classes', teacherViews.classes],
  ['/classes/:classId', teacherViews.class],
  ['/classes/:classId/mark-book', teacherViews.markBook],
  ['/classes/:classId/look', teacherViews.classLook],
  ['/classes/:classId/log', teacherViews.logs],
  ['/classes/:classId/log/:personId', teacherViews.log],
  ['/classes/:classId/log/:personId/sheet', teacherViews.talkSheet],
  ['/classes/:classId/:part', teacherViews.class],
  ['/assignments/:assignmentId', teacherViews.assignment],
  ['/copies/:copyId/words', teacherViews.words],
  ['/room/:assignmentId', teacherViews.room],
  ['/room/:assignmentId/:copyId', teacherViews.closeLook],
  ['/bank', teacherViews.bank],
  ['/rubrics', teacherViews.rubrics],
  ['/rubrics/:rubricId', teacherViews.rubric],
  ['/worksheets', teacherViews.worksheets],
  ['/worksheets/:worksheetId', teacherViews.worksheet],
];
const STUDENTS: Shown = [
  ['/work/:copyId', studentViews.work],
  ['/feedback', studentViews.ownLog],
];
const ALL: Shown = [
  ['/sign-in', views.signIn],
  ['/copies/:copyId/trail', views.trail],
  ['/account', views.account],
  ['/news', views.news],
  ['/family/:token', views.family],
  ['/family-log/:token', views.familyLog],
];

const SOON = {
  teacher: [teacherViews.today, teacherViews.pile, teacherViews.desk],
  student: [studentViews.myWork, studentViews.work],
};
/** When the first view has had its time to load. */
const SOON_MS = 600;

/** What this person will most likely open next is loaded while they look at the first view. */
function useSoon(): void {
  const { session } = useHere();
  const role = session.person?.role;
  useEffect(() => {
    if (role !== 'teacher' && role !== 'student') return;
    const clock = setTimeout(() => {
      for (const view of SOON[role]) view.ready();
    }, SOON_MS);
    return () => clearTimeout(clock);
  }, [role]);
}

function First() {
  const { session } = useHere();
  if (!session.person) return <Navigate to="/sign-in" replace />;
  switch (session.person.role) {
    case 'teacher':
      return <teacherViews.today />;
    case 'student':
      return <studentViews.myWork />;
    case 'administrator':
      return <schoolViews.people />;
  }
}

function Views() {
  const { session } = useHere();
  useSoon();
  useEffect(() => {
    if (wasLoadedAnew()) toast('There is a new version of Jotmark; the page was loaded anew.');
  }, []);
  return (
    <Suspense fallback={<Waiting what="the page" />}>
      {session.firstPassword ? <views.chooseOwn /> : session.needsStep ? <views.account /> : <Places />}
    </Suspense>
  );
}

function Places() {
  return (
    <Routes>
      <Route path="/" element={<First />} />
      {ALL.map(([path, View]) => (
        <Route key={path} path={path} element={<View />} />
      ))}
      {(
        [
          ['teacher', TEACHERS],
          ['student', STUDENTS],
        ] as const
      ).map(([only, shown]) =>
        shown.map(([path, View]) => (
          <Route
            key={path}
            path={path}
            element={
              <For only={only}>
                <GhostsHere value={only === 'teacher' ? PhrasesAnywhere : null}>
                  <View />
                </GhostsHere>
              </For>
            }
          />
        )),
      )}
      <Route path="*" element={<Trouble error={new CallFailed('not-found')} />} />
    </Routes>
  );
}

/** Loaded when somebody leaves, or comes back to what they left. */
const DEVICE: OnDevice = {
  lock: (id, key) => import('../left/lock-away.ts').then((m) => m.lockAway(id, key)),
  unlock: (id, key) => import('../left/lock-away.ts').then((m) => m.unlock(id, key)),
};

export function App() {
  return (
    <QueryClientProvider client={client}>
      <SessionProvider device={DEVICE}>
        <OutboxLine />
        <NewsLine />
        <LeftTakes />
        <Fallen>
          <BrowserRouter useTransitions={false}>
            <Views />
          </BrowserRouter>
        </Fallen>
        <TipLayer />
        <Toasts />
      </SessionProvider>
    </QueryClientProvider>
  );
}
