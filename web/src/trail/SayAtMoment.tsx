import {
  type CopyId,
  coverOf,
  type Mark,
  type MessageId,
  type MessagePlace,
  plainWords,
  type TrailLine,
} from '@jotmark/core';
import { MessageField } from '../conversation/MessageField.tsx';
import { type Heard, useMessages } from '../conversation/useMessages.ts';
import { When } from '../frame/When.tsx';
import { newId } from '../outbox/new-id.ts';
import { outbox } from '../outbox/outbox.ts';

interface Props {
  readonly copyId: CopyId;
  /** The moment that is shown; null before the first stroke. */
  readonly place: MessagePlace | null;
  onGo(moment: number): void;
}

/** What was said about moments of this way, each leading to its own; and a field to say something about the one that is shown. */
export function SayAtMoment({ copyId, place, onGo }: Props) {
  const about = (useMessages(copyId) ?? []).filter(
    (m): m is Heard & { place: { moment: number } } => !!m.place?.moment,
  );
  const say = (words: string) =>
    place && outbox.say(copyId, { type: 'word', id: newId<MessageId>(), words, place });
  return (
    <section className="mt-5" aria-label="Messages about moments">
      <h2 className="font-bold">Messages about moments</h2>
      <ul className="mt-1 space-y-1">
        {about.map((m) => (
          <li key={m.id}>
            <button
              type="button"
              aria-current={m.place.moment === place?.moment}
              className={`w-full rounded px-2 py-1 text-left text-sm hover:bg-action-wash ${m.place.moment === place?.moment ? 'bg-action-wash' : ''}`}
              onClick={() => onGo(m.place.moment)}
            >
              <span className="block text-xs text-soft">
                {m.mine ? 'You' : m.by} · <When at={m.place.moment} />
              </span>
              {plainWords(m.words)}
            </button>
          </li>
        ))}
      </ul>
      {place && (
        <MessageField label="Message about this moment" placeholder="Write about this moment …" onSay={say} />
      )}
    </section>
  );
}

/** Where words about a line of the trail point: the answer or the stroke that it changed, at its moment. */
export function placeOfLine(
  sheets: readonly {
    document: { id: string };
    questions: readonly { id: string; page: number; box: readonly number[] }[];
  }[],
  strokes: readonly Mark[],
  line: TrailLine,
): MessagePlace | null {
  const moment = line.at;
  for (const { document, questions } of sheets) {
    const asked = questions.find((q) => q.id === line.subject);
    if (asked)
      return {
        document: document.id as MessagePlace['document'],
        page: asked.page,
        x: Math.round(asked.box[0]!),
        y: Math.round(asked.box[1]!),
        moment,
      };
  }
  const stroke = strokes.find((s) => s.id === line.subject);
  if (!stroke) return null;
  const [x, y] = coverOf(stroke);
  return { document: stroke.document, page: stroke.page, x: Math.round(x), y: Math.round(y), moment };
}
