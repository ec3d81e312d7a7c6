import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { BrowserRouter, Navigate, Route, Routes, useLocation } from 'react-router';
import { Toaster } from 'sonner';
import { AccountView } from '../account/AccountView.tsx';
import { CallFailed } from '../api/call.ts';
import { WordsView } from '../conversation/WordsView.tsx';
import { DeskRoute } from '../desk/Desk.tsx';
import { SessionProvider, useHere } from '../frame/session.tsx';
import { Trouble } from '../frame/states.tsx';
import { OutboxLine } from '../outbox/OutboxLine.tsx';
import { PileView } from '../pile/PileView.tsx';
import { Classes } from '../register/Classes.tsx';
import { ClassView } from '../register/ClassView.tsx';
import { CloseLookView } from '../room/CloseLookView.tsx';
import { RoomView } from '../room/RoomView.tsx';
import { AssignmentRoute } from '../setting/AssignmentView.tsx';
import { FamilyView } from '../setting/FamilyView.tsx';
import { SignIn } from '../sign-in/SignIn.tsx';
import { Today } from '../today/Today.tsx';
import { TrailView } from '../trail/TrailView.tsx';
import { MyWork } from '../work/MyWork.tsx';
import { WorkCopy } from '../work/WorkCopy.tsx';
import { WorksheetList } from '../worksheets/WorksheetList.tsx';
import { WorksheetRoute } from '../worksheets/WorksheetMaker.tsx';

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

const TEACHERS: readonly (readonly [path: string, view: ReactNode])[] = [
  ['/classes', <Classes key="classes" />],
  ['/classes/:classId', <ClassView key="class" />],
  ['/classes/:classId/:part', <ClassView key="part" />],
  ['/assignments/:assignmentId', <AssignmentRoute key="assignment" />],
  ['/copies/:copyId/words', <WordsView key="words" />],
  ['/room/:assignmentId', <RoomView key="room" />],
  ['/room/:assignmentId/:copyId', <CloseLookView key="look" />],
  ['/worksheets', <WorksheetList key="worksheets" />],
  ['/worksheets/:worksheetId', <WorksheetRoute key="worksheet" />],
];

function First() {
  const { session } = useHere();
  if (!session.person) return <Navigate to="/sign-in" replace />;
  return session.person.role === 'teacher' ? <Today /> : <MyWork />;
}

export function App() {
  return (
    <QueryClientProvider client={client}>
      <SessionProvider>
        <OutboxLine />
        <BrowserRouter useTransitions={false}>
          <Routes>
            <Route path="/" element={<First />} />
            <Route path="/sign-in" element={<SignIn />} />
            <Route
              path="/piles/:assignmentId"
              element={
                <For only="teacher">
                  <PileView />
                </For>
              }
            />
            <Route
              path="/desk/:copyId"
              element={
                <For only="teacher">
                  <DeskRoute />
                </For>
              }
            />
            <Route
              path="/work/:copyId"
              element={
                <For only="student">
                  <WorkCopy />
                </For>
              }
            />
            {TEACHERS.map(([path, element]) => (
              <Route key={path} path={path} element={<For only="teacher">{element}</For>} />
            ))}
            <Route path="/copies/:copyId/trail" element={<TrailView />} />
            <Route path="/account" element={<AccountView />} />
            <Route path="/family/:token" element={<FamilyView />} />
            <Route path="*" element={<Trouble error={new CallFailed('not-found')} />} />
          </Routes>
        </BrowserRouter>
        <Toaster position="bottom-center" closeButton />
      </SessionProvider>
    </QueryClientProvider>
  );
}
