import type { AssignmentId, ClassId, CopyId, DocumentId, PersonId } from '@jotmark/core';
import { type QueryClient, useQueryClient } from '@tanstack/react-query';
import { useMemo } from 'react';
import { type Key, keys } from './keys.ts';

interface Outdated {
  /** Asked for again where it is shown. */
  readonly again?: readonly Key[];
  /** Let go: it must not be shown once more, not even for a moment. */
  readonly gone?: readonly Key[];
}

/** What each act makes stale. Who acts says what was done; what must be asked for again stands here and nowhere else. */
const acts = {
  /** A grade or the like, of a copy that may lie on a desk. */
  slipWritten: (a: { copyId: CopyId | null }): Outdated => ({
    again: [keys.pile(), keys.pileScores(), keys.markBook(), keys.today],
    gone: a.copyId ? [keys.desk(a.copyId)] : [],
  }),
  marksBroughtIn: (a: { assignmentId: AssignmentId; copyId: CopyId }): Outdated => ({
    again: [keys.pile(a.assignmentId)],
    gone: [keys.desk(a.copyId)],
  }),
  handedBack: (a: { assignmentId: AssignmentId }): Outdated => ({
    again: [keys.pile(a.assignmentId), keys.markBook(), keys.today],
    gone: [keys.desk()],
  }),
  /** Something came that one is told of. */
  newsCame: (_: object): Outdated => ({
    again: [
      keys.news,
      keys.myWork,
      keys.work(),
      keys.today,
      keys.pile(),
      keys.unread,
      keys.messages(),
      keys.logs(),
      keys.ownLogs,
      keys.consents,
    ],
  }),
  newsRead: (_: object): Outdated => ({ again: [keys.news] }),
  /** The student opened what came back; the grade may show now. */
  copyOpened: (_: object): Outdated => ({ again: [keys.work()] }),
  /** Copies of a pile came, went, were written to, excused. */
  pileChanged: (a: { assignmentId: AssignmentId }): Outdated => ({ again: [keys.pile(a.assignmentId)] }),
  /** Nothing that carries a name stays in this browser. */
  madeBlind: (a: { assignmentId: AssignmentId }): Outdated => ({
    again: [keys.pile(a.assignmentId), keys.today],
    gone: [keys.desk(), keys.beside(), keys.messages(), keys.unread, keys.room(), keys.look(), keys.trail()],
  }),
  roomChanged: (a: { assignmentId: AssignmentId }): Outdated => ({ again: [keys.room(a.assignmentId)] }),
  copyChanged: (a: { copyId: CopyId }): Outdated => ({ again: [keys.look(a.copyId), keys.work(a.copyId)] }),
  wordSaid: (a: { copyId: CopyId }): Outdated => ({ again: [keys.messages(a.copyId)] }),
  wordsRead: (_: object): Outdated => ({ again: [keys.unread, keys.myWork, keys.news] }),
  handedIn: (a: { copyId: CopyId }): Outdated => ({ again: [keys.myWork, keys.messages(a.copyId)] }),
  takenBack: (_: object): Outdated => ({ again: [keys.myWork] }),
  pagesReadAgain: (a: { documentId: DocumentId }): Outdated => ({
    again: [keys.document(a.documentId, 'pages'), keys.work(), keys.desk()],
  }),
  /** What was handed in has become pages while somebody looked at it. */
  handInRead: (a: { copyId: CopyId }): Outdated => ({ again: [keys.work(a.copyId)] }),
  worksheetChanged: (_: object): Outdated => ({ again: [keys.worksheets, keys.assignment()] }),
  /** How work is scored: its grades are computed anew. */
  scoringChanged: (a: { assignmentId: AssignmentId }): Outdated => ({
    again: [
      keys.scoring(a.assignmentId),
      keys.assignment(a.assignmentId),
      keys.pile(a.assignmentId),
      keys.pileScores(a.assignmentId),
      keys.across(),
      keys.today,
    ],
    gone: [keys.desk()],
  }),
  /** What an answer should be: offers follow wherever it is scored. */
  keyChanged: (_: object): Outdated => ({ again: [keys.across()], gone: [keys.desk()] }),
  /** One question of many copies was scored. */
  scoredAcross: (a: { assignmentId: AssignmentId }): Outdated => ({
    again: [keys.pile(a.assignmentId), keys.pileScores(a.assignmentId), keys.today],
    gone: [keys.desk(), keys.across()],
  }),
  /** Where a question of the pile stands was drawn, on a copy that lies on the desk. */
  questionDrawn: (a: { assignmentId: AssignmentId }): Outdated => ({
    again: [
      keys.scoring(a.assignmentId),
      keys.pile(a.assignmentId),
      keys.pileScores(a.assignmentId),
      keys.across(),
      keys.desk(),
    ],
  }),
  rubricChanged: (_: object): Outdated => ({ again: [keys.rubrics, keys.assignment()] }),
  bankChanged: (_: object): Outdated => ({ again: [keys.bank] }),
  focusesRenamed: (_: object): Outdated => ({ again: [keys.bank, keys.trays] }),
  assignmentStarted: (a: { classId: ClassId }): Outdated => ({ again: [keys.assignments(a.classId)] }),
  assignmentSaved: (a: { classId: ClassId; assignmentId: AssignmentId }): Outdated => ({
    again: [keys.assignments(a.classId), keys.pile(a.assignmentId), keys.today],
  }),
  /** Nobody takes work back any more: it can be marked. */
  takingBackEnded: (a: { assignmentId: AssignmentId }): Outdated => ({
    again: [keys.desk(), keys.assignment(a.assignmentId)],
  }),
  /** Somebody was taken in, or not; an account is another. */
  peopleChanged: (_: object): Outdated => ({
    again: [keys.people(), keys.consents, keys.schoolActs, keys.register(), keys.classes],
  }),
  /** Where I am signed in, and how. */
  accountChanged: (_: object): Outdated => ({ again: [keys.account] }),
  /** Set, put away, brought back: it stands in another list now. */
  assignmentMoved: (_: object): Outdated => ({ again: [keys.assignments(), keys.markBook(), keys.today] }),
  remarkSaid: (a: { classId: ClassId }): Outdated => ({
    again: [keys.logs(a.classId), keys.log(a.classId)],
  }),
  logAnswered: (_: object): Outdated => ({ again: [keys.ownLogs] }),
  reportWritten: (a: { classId: ClassId; personId: PersonId }): Outdated => ({
    again: [keys.reports(a.classId, a.personId)],
  }),
  bookChanged: (a: { classId: ClassId }): Outdated => ({ again: [keys.markBook(a.classId)] }),
  registerChanged: (a: { classId: ClassId }): Outdated => ({
    again: [keys.register(a.classId), keys.classes],
  }),
  classAdded: (_: object): Outdated => ({ again: [keys.classes] }),
};

type Acts = typeof acts;

/** Says what was done; all that is stale now is asked for again. */
export function tell<A extends keyof Acts>(client: QueryClient, act: A, about: Parameters<Acts[A]>[0]): void {
  void toldAndRead(client, act, about);
}

/** The same, and ends when what is shown of it has been read. */
export async function toldAndRead<A extends keyof Acts>(
  client: QueryClient,
  act: A,
  about: Parameters<Acts[A]>[0],
): Promise<void> {
  const { again = [], gone = [] } = (acts[act] as (about: unknown) => Outdated)(about);
  for (const queryKey of gone) client.removeQueries({ queryKey });
  await Promise.all(again.map((queryKey) => client.invalidateQueries({ queryKey })));
}

/** The same, for a component. */
export function useTell() {
  const client = useQueryClient();
  return useMemo(
    () =>
      <A extends keyof Acts>(act: A, about: Parameters<Acts[A]>[0]) =>
        tell(client, act, about),
    [client],
  );
}
