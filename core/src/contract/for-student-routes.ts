import * as z from 'zod';
import { CopyId, DocumentId, HandInId } from '../ids/id.ts';
import { listOf } from '../versions/list.ts';
import { MOST_FILES } from './errors.ts';
import { route } from './route.ts';
import { Ordered } from './shapes.ts';

const copy = z.object({ copyId: CopyId });

/** Work that did not come through its student's own hands: a teacher brings it in. */
export const forStudentRoutes = {
  addFileFor: route(
    'POST',
    '/api/copies/:copyId/files-for',
    'teacher',
    'Send a file that is to be handed in for a student; nobody sees it before it is',
    { params: copy, reply: Ordered, takes: 'file' },
  ),
  handInFor: route(
    'POST',
    '/api/copies/:copyId/hand-in-for',
    'teacher',
    'Hand in for a student: these files, with what lies on the copy already. The same id sent twice counts once',
    {
      params: copy,
      body: z.object({
        id: HandInId,
        documents: listOf(DocumentId, MOST_FILES, 1),
        /** It came in on time, whenever it was brought in. */
        onTime: z.boolean(),
      }),
    },
  ),
  undoHandInFor: route(
    'DELETE',
    '/api/copies/:copyId/hand-in-for/:handInId',
    'teacher',
    'Undo that, as long as nobody has begun to mark it: the files go, the student has what was there before',
    { params: z.object({ copyId: CopyId, handInId: HandInId }) },
  ),
} as const;
