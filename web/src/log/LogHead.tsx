import { comesAgain, doneWith, focusRows, INK_HEX, type LogEntry, plainWords } from '@jotmark/core';
import { useHere } from '../frame/session.tsx';
import { FocusSignGlyph } from '../look/glyphs.tsx';
import { plural } from '../time/words.ts';

/** So much of what comes again is shown at once. */
const MOST = 6;

/** What stands out of a whole log: what notes were about, what became of them, what comes again and what has stopped. */
export function LogHead({ entries, name }: { entries: readonly LogEntry[]; name: string }) {
  return (
    <section
      aria-label="In short"
      className="grid gap-x-8 gap-y-5 rounded-lg bg-raised p-5 shadow-sm md:grid-cols-3"
    >
      <About entries={entries} />
      <Done entries={entries} name={name} />
      <Again entries={entries} />
    </section>
  );
}

function About({ entries }: { entries: readonly LogEntry[] }) {
  const rows = focusRows(entries);
  const top = Math.max(1, ...rows.flatMap((r) => r.by));
  return (
    <div>
      <h2 className="font-bold">What the notes were about</h2>
      {rows.length === 0 ? (
        <p className="mt-1 text-sm text-soft">No note has a focus yet.</p>
      ) : (
        <table className="mt-2 text-sm">
          <tbody>
            {rows.map((r) => (
              <tr key={r.name}>
                <th scope="row" className="pr-4 text-left font-normal whitespace-nowrap">
                  <span className="mr-2 inline-block align-middle">
                    <FocusSignGlyph colour={r.colour} sign={r.sign} size={11} />
                  </span>
                  {r.name}
                </th>
                <td>
                  <span className="sr-only">{plural(r.count, 'note', 'notes')}</span>
                  <span aria-hidden="true" className="flex h-5 items-end gap-1">
                    {r.by.map((n, i) => (
                      <span
                        key={i}
                        className="w-3.5 border-b border-line"
                        style={{
                          height: `${(100 * n) / top}%`,
                          background: INK_HEX[r.colour],
                          opacity: 0.5 + (0.5 * (i + 1)) / r.by.length,
                        }}
                      />
                    ))}
                  </span>
                </td>
                <td className="pl-3 text-right tabular text-soft">{r.count}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}

function Done({ entries, name }: { entries: readonly LogEntry[]; name: string }) {
  const { notes, done, days, suggestions } = doneWith(entries);
  return (
    <div className="md:border-l md:border-line md:pl-8">
      <h2 className="font-bold">What {name} did with it</h2>
      {notes === 0 ? (
        <p className="mt-1 text-sm text-soft">No note has gone back yet.</p>
      ) : (
        <>
          <p className="mt-1">
            <b className="text-2xl tabular">{done}</b>{' '}
            <span className="text-soft">
              of {plural(notes, 'note', 'notes')} dealt with
              {days !== null &&
                `, after ${days < 0.1 ? 'some hours' : `${Math.round(days * 10) / 10} days`} on average`}
            </span>
          </p>
          {suggestions.all > 0 && (
            <p className="mt-1 text-sm text-soft">
              {plural(suggestions.all, 'suggestion', 'suggestions')}: {suggestions.taken} accepted,{' '}
              {suggestions.declined} declined
            </p>
          )}
        </>
      )}
    </div>
  );
}

function Again({ entries }: { entries: readonly LogEntry[] }) {
  const { clock } = useHere();
  const day = (at: number) => clock.day(at, Date.now());
  const all = comesAgain(entries);
  return (
    <div className="md:border-l md:border-line md:pl-8">
      <h2 className="font-bold">Comes again</h2>
      {all.length === 0 ? (
        <p className="mt-1 text-sm text-soft">Nothing was said in two pieces of work.</p>
      ) : (
        <ul className="mt-1 space-y-1 text-sm">
          {all.slice(0, MOST).map((c) => (
            <li key={`${c.what} ${c.words}`} className={c.stopped ? 'text-soft' : ''}>
              {c.what === 'focus' ? c.words : `“${plainWords(c.words)}”`}{' '}
              <b className="tabular">{c.times} ×</b> in {c.works} pieces of work
              {c.stopped ? `, not since ${day(c.lastAt)}` : c.open > 0 ? `, ${c.open} open` : ''}
            </li>
          ))}
          {all.length > MOST && <li className="text-soft">and {all.length - MOST} more</li>}
        </ul>
      )}
    </div>
  );
}
