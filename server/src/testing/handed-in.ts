import type { Change, CopyId, DocumentId, HandInId, ReplyOf, Routes } from '@jotmark/core';
import type { Running } from '../serve.ts';
import { Caller, smallClass } from './house.ts';
import { plainPdf } from './pdfs.ts';

export type Answer = ReplyOf<Routes['sendChanges']>;

/** A class whose first student has handed in a small PDF, with everybody signed in. */
export async function handedIn(
  running: Running,
  students: readonly string[] = ['ada', 'ben'],
  dueAt: number | null = null,
) {
  const school = await smallClass(running, students, dueAt);
  const teacher = await new Caller(running.address).signIn(school.teacher.login);
  const student = await new Caller(running.address).signIn(school.students[0]!.login);
  const copyId: CopyId = school.copyOf(0);
  const { handInId, documentId } = await handInFor(student, teacher, copyId);
  const send = async (...changes: Change[]): Promise<Answer> => {
    const reply = await teacher.call('sendChanges', { params: { handInId }, body: { changes } });
    if (reply.status !== 200) throw new Error(JSON.stringify(reply.body));
    return reply.body;
  };
  return { ...school, teacherCaller: teacher, student, copyId, handInId, documentId, send };
}

export async function handInFor(
  student: Caller,
  teacher: Caller,
  copyId: CopyId,
  bytes?: Uint8Array,
): Promise<{ handInId: HandInId; documentId: DocumentId }> {
  const laid = await student.upload(copyId, bytes ?? (await plainPdf()));
  if (laid.status !== 200) throw new Error(JSON.stringify(laid.body));
  const there = await student.handIn(copyId);
  if (there.status !== 200) throw new Error(JSON.stringify(there.body));
  const desk = await teacher.call('desk', { params: { copyId } });
  return { handInId: desk.body.handIn.id, documentId: laid.body.id };
}
