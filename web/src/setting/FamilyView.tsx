import { useQuery } from '@tanstack/react-query';
import { useParams } from 'react-router';
import { addressOf, call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { onDemand } from '../frame/on-demand.tsx';
import { useHere } from '../frame/session.tsx';
import { Trouble, Waiting } from '../frame/states.tsx';
import { useNotIndexed } from '../frame/useNotIndexed.ts';
import { useTitle } from '../frame/useTitle.ts';
import { Emblem } from '../look/glyphs.tsx';
import { Enclosure } from '../paper/Enclosures.tsx';
import { RichShow } from '../rich/RichShow.tsx';

/** Only where the teacher shows one. */
const RubricRead = onDemand(() => import('../scores/RubricRead.tsx').then((m) => m.RubricRead));

/** Who comes: a parent with the address from a letter, on a telephone. What is to be done, until when, and what there is to look at. */
export function FamilyView() {
  const { token = '' } = useParams();
  const { clock } = useHere();
  const page = useQuery({
    queryKey: keys.family(token ?? ''),
    queryFn: () => call('family', { params: { token } }),
    retry: false,
  });
  useNotIndexed();
  const fileAt = (id: string) => addressOf('familyFile', { token, documentId: id });
  useTitle([page.data?.title ?? '']);
  return (
    <div className="min-h-full bg-table">
      <header className="flex min-h-12 items-center gap-3 border-b border-line bg-tray px-5">
        <Emblem />
        <span className="text-soft">{page.data?.school}</span>
      </header>
      <main className="mx-auto max-w-2xl p-5">
        {page.error ? (
          <Trouble error={page.error} />
        ) : !page.data ? (
          <Waiting what="the page" />
        ) : (
          <article className="rounded-lg bg-raised p-6 shadow-sm">
            <p className="text-sm text-soft">
              {[page.data.category, page.data.unit].filter(Boolean).join(' · ')}
            </p>
            <h1 className="mt-1 text-2xl font-bold">{page.data.title}</h1>
            {page.data.dueAt !== null && <p className="mt-1">Due {clock.full(page.data.dueAt)}</p>}
            <div className="mt-5">
              <RichShow text={page.data.instructions} pictureAt={fileAt} />
            </div>
            {page.data.rubric && (
              <div className="mt-6">
                <RubricRead name={page.data.rubric.name} rubric={page.data.rubric.rubric} graded={false} />
              </div>
            )}
            {page.data.materials.length > 0 && (
              <section className="mt-6" aria-label="To look at">
                <h2 className="mb-2 font-bold">To look at</h2>
                <div className="space-y-2">
                  {page.data.materials.map(
                    (m) =>
                      m.document && (
                        <Enclosure key={m.id} document={{ ...m.document, name: m.name }} address={fileAt} />
                      ),
                  )}
                </div>
              </section>
            )}
          </article>
        )}
      </main>
    </div>
  );
}
