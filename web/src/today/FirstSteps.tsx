import { Check } from 'lucide-react';
import { Link } from 'react-router';
import { useClasses } from '../ask/classes.ts';
import { Trouble, Waiting } from '../frame/states.tsx';

interface Step {
  readonly title: string;
  readonly says: string;
  readonly done: boolean;
  /** What the button of the step that is next says, and where it leads. */
  readonly act: string;
  readonly to: string;
}

/** Who comes: a teacher before the first pile. What was done, what is next, and one button for it. */
export function FirstSteps() {
  const classes = useClasses();
  if (classes.error) return <Trouble error={classes.error} again={() => classes.refetch()} />;
  if (!classes.data) return <Waiting what="your classes" />;
  const mine = classes.data.filter((c) => !c.archived);
  const full = mine.find((c) => c.students > 0);
  const draft = mine.find((c) => c.students > 0 && c.assignments > 0);
  const steps: readonly Step[] = [
    {
      title: 'A class',
      says: 'Its name is enough.',
      done: mine.length > 0,
      act: 'Make your first class',
      to: '/classes',
    },
    {
      title: 'Its students',
      says: 'Paste their names, or upload a list. Each gets a login and a first password.',
      done: full !== undefined,
      act: mine[0] ? `Add students to ${mine[0].name}` : 'Add students',
      to: mine[0] ? `/classes/${mine[0].id}/register` : '/classes',
    },
    {
      title: 'A worksheet, or other work',
      says: 'Take a file you have, or only instructions. Everyone in the class gets a copy of their own.',
      done: false,
      act: draft
        ? `Go on with your draft for ${draft.name}`
        : `Hand out work${full ? ` to ${full.name}` : ''}`,
      to: full ? `/classes/${full.id}` : '/classes',
    },
    {
      title: 'Then wait',
      says: 'What students hand in comes up here, ready to be marked.',
      done: false,
      act: '',
      to: '/',
    },
  ];
  const next = steps.findIndex((s) => !s.done);
  return (
    <section className="mx-auto max-w-2xl" aria-labelledby="first-steps">
      <h2 id="first-steps" className="text-3xl font-bold">
        {next === 0 ? 'Welcome to Jotmark' : 'What comes next'}
      </h2>
      <ol className="mt-6 space-y-3">
        {steps.map((s, i) => (
          <li
            key={s.title}
            aria-current={i === next ? 'step' : undefined}
            className={`flex gap-4 rounded-lg px-5 py-4 ${i === next ? 'bg-raised shadow-sm' : ''}`}
          >
            <span
              className={`grid size-8 shrink-0 place-items-center rounded-full border-2 font-bold tabular ${s.done ? 'border-action bg-action text-white' : i === next ? 'border-action text-action' : 'border-line-strong text-soft'}`}
            >
              {s.done ? <Check size={18} aria-label="done" /> : i + 1}
            </span>
            <div className="min-w-0 flex-1">
              <p className={`text-lg font-bold ${i > next ? 'text-soft' : ''}`}>{s.title}</p>
              {!s.done && <p className="text-soft">{s.says}</p>}
              {i === next && (
                <Link to={s.to} className="act mt-3 inline-flex items-center">
                  {s.act}
                </Link>
              )}
            </div>
          </li>
        ))}
      </ol>
    </section>
  );
}
