import { choiceFor, MailHow, NEWS_NAMES, type NewsChoices, type NewsKind, newsOf } from '@jotmark/core';
import { useMutation, useQuery } from '@tanstack/react-query';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { useAtOnce } from '../ask/useAtOnce.ts';
import { useHere } from '../frame/session.tsx';
import { toast } from '../frame/toast.ts';

const HOW: Readonly<Record<MailHow, string>> = { each: 'at once', daily: 'once a day', none: 'no mail' };

/** What one is told of here, and what one is written to about. */
export function Choices() {
  const { session } = useHere();
  const choices = useQuery({ queryKey: keys.newsChoices, queryFn: () => call('newsChoices') });
  const keep = useMutation({
    mutationFn: (next: NewsChoices) => call('chooseNews', { body: next }),
    onError: (error) => toast.error(sentenceOf(error)),
    onSettled: () => choices.refetch(),
  });
  const [now, choose] = useAtOnce(choices.data, (next) => keep.mutateAsync(next!));
  if (!now) return null;
  const set = (kind: NewsKind, over: Partial<ReturnType<typeof choiceFor>>) =>
    choose({ ...now, [kind]: { ...choiceFor(now, kind), ...over } });
  return (
    <details className="mt-8 rounded-lg bg-raised p-4 shadow-sm">
      <summary className="cursor-pointer font-bold">News and mail settings</summary>
      <p className="mt-1 text-sm text-soft">
        No mail ever says a grade. The daily mail comes at half past four.
      </p>
      <table className="mt-2 w-full text-[15px]">
        <thead className="text-left text-xs text-soft">
          <tr>
            <th className="py-1 font-normal">When</th>
            <th className="w-20 font-normal">News</th>
            <th className="w-36 font-normal">Mail</th>
          </tr>
        </thead>
        <tbody>
          {newsOf(session.person?.role ?? 'student').map((kind) => {
            const choice = choiceFor(now, kind);
            return (
              <tr key={kind} className="border-t border-line">
                <th scope="row" className="py-1 text-left font-normal">
                  {NEWS_NAMES[kind]}
                </th>
                <td>
                  <input
                    type="checkbox"
                    className="size-4 accent-action"
                    aria-label={`${NEWS_NAMES[kind]}: among my news`}
                    checked={choice.news}
                    onChange={(e) => set(kind, { news: e.target.checked })}
                  />
                </td>
                <td>
                  <select
                    className="field !min-h-8 !py-0.5"
                    aria-label={`${NEWS_NAMES[kind]}: mail`}
                    value={choice.mail}
                    onChange={(e) => set(kind, { mail: MailHow.parse(e.target.value) })}
                  >
                    {MailHow.options.map((how) => (
                      <option key={how} value={how}>
                        {HOW[how]}
                      </option>
                    ))}
                  </select>
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </details>
  );
}
