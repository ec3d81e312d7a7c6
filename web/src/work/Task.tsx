import type { CopyId, Work } from '@jotmark/core';
import { Link } from 'react-router';
import { WordsFold } from '../conversation/WordsFold.tsx';
import { onDemand } from '../frame/on-demand.tsx';
import { useHere } from '../frame/session.tsx';
import { When } from '../frame/When.tsx';
import { Enclosure, originalOf } from '../paper/Enclosures.tsx';
import { RichShow } from '../rich/RichShow.tsx';

/** Only where there is a rubric. */
const RubricRead = onDemand(() => import('../scores/RubricRead.tsx').then((m) => m.RubricRead));
const TogetherLine = onDemand(() => import('./TogetherLine.tsx').then((m) => m.TogetherLine));
const Midway = onDemand(() => import('./Midway.tsx').then((m) => m.Midway));

/** What the teacher set: date, instructions, what to look at, and the conversation about it. */
export function Task({
  work,
  scored = false,
}: {
  work: Work;
  /** What was scored is shown beside it already. */
  scored?: boolean;
}) {
  const { clock } = useHere();
  const { row } = work;
  const now = Date.now();
  const { dueAt } = row.assignment;
  return (
    <div className="space-y-4">
      {row.excused && (
        <p className="font-bold">You are excused from this. You may hand it in all the same.</p>
      )}
      {dueAt !== null && row.place === 'with-student' && !row.excused && (
        <p className={row.overdue ? 'text-caution' : 'text-soft'}>
          {row.overdue
            ? `Was due ${clock.moment(dueAt, now)}. You can still hand in; it counts as late.`
            : `Due ${clock.moment(dueAt, now)}`}
        </p>
      )}
      {work.together && <TogetherLine work={work} />}
      {work.news && (
        <p className="rounded-lg bg-margin p-3">
          <strong>
            Changed <When at={work.news.at} />:
          </strong>{' '}
          {work.news.words}
        </p>
      )}
      {work.midway && !scored && <Midway midway={work.midway} />}
      {work.instructions.content.length > 0 && <RichShow text={work.instructions} pictureAt={originalOf} />}
      {work.rubric && !scored && (
        <RubricRead
          name={work.rubric.name}
          rubric={work.rubric.rubric}
          graded={row.assignment.most !== null}
        />
      )}
      {work.materials.length > 0 && (
        <section aria-label="To look at">
          <h2 className="mb-2 font-bold">To look at</h2>
          <div className="space-y-2">
            {work.materials.map(
              (m) => m.document && <Enclosure key={m.id} document={{ ...m.document, name: m.name }} />,
            )}
          </div>
        </section>
      )}
      {/* A line parts it from what stands above it, where something does. */}
      <div className="first:[&>details]:border-t-0 first:[&>details]:pt-0">
        <WordsFold
          copyId={row.copyId}
          title={`Messages with ${work.teachers.join(', ') || 'your teacher'}`}
          withWhom="your teacher"
          className="font-bold"
        />
      </div>
      <TrailLink copyId={row.copyId} />
    </div>
  );
}

/** What the teacher may see of how a copy came to be, its student sees as well. */
function TrailLink({ copyId }: { copyId: CopyId }) {
  return (
    <p className="border-t border-line pt-3 text-sm text-soft">
      <Link to={`/copies/${copyId}/trail`} className="text-action underline">
        Working trail
      </Link>
      : your teacher can see it too.
    </p>
  );
}
