import { DocumentId, type MarkId } from '../ids/id.ts';
import { bytesOf, digestOf, type KeepBytes } from '../versions/digest.ts';
import { readVersioned, type Step } from '../versions/reading.ts';
import { KnownMark, type Mark, UnreadMark } from './mark.ts';

type Raw = Readonly<Record<string, unknown>>;

/** Version 1 had the bytes of pictures and of what other programs made in the mark itself. */
const bytesApart =
  (keep: KeepBytes): Step =>
  (mark) => {
    const out: Record<string, unknown> = { ...mark, v: 2 };
    const apart = (text: unknown) => (typeof text === 'string' ? keep(bytesOf(text)) : null);
    if (mark.kind === 'stamp') out.look = lookApart(mark.look as Raw, keep);
    if (mark.kind === 'foreign') {
      out.pdf = apart(mark.pdf);
      out.picture = apart(mark.png);
      delete out.png;
    }
    return out;
  };

/** The look of a stamp with its picture kept apart. */
export function lookApart(look: Raw, keep: KeepBytes): Raw {
  if (look?.of !== 'picture' || typeof look.png !== 'string') return look;
  const { png, ...rest } = look;
  return { ...rest, picture: keep(bytesOf(png)) };
}

/**
 * Reads a mark of any version. `keep` hears of bytes that lay in an older one. What cannot be read becomes a mark of the kind `unread` that has it
 * whole: it is shown as such, kept, and never dropped. `id` is under which it is stored.
 */
export function readMark(raw: unknown, id: MarkId | null = null, keep: KeepBytes = digestOf): Mark {
  const read = readVersioned(raw, [bytesApart(keep)], KnownMark);
  return read.ok ? read.value : unreadMark(raw, id);
}

/** Where nothing of an unread mark says what page it is on: no document has this id, so only the list of marks shows it. */
const NO_DOCUMENT = DocumentId.parse('00000000-0000-7000-8000-000000000000');

function unreadMark(raw: unknown, id: MarkId | null): Mark {
  const value = (typeof raw === 'object' && raw !== null ? raw : {}) as Raw;
  const known = UnreadMark.safeParse(value);
  if (known.success) return known.data;
  const on = DocumentId.safeParse(value.document);
  const page = UnreadMark.shape.page.safeParse(value.page);
  const itself = UnreadMark.shape.id.safeParse(value.id);
  return {
    v: 2,
    id: itself.success ? itself.data : (id ?? (NO_DOCUMENT as string as MarkId)),
    document: on.success ? on.data : NO_DOCUMENT,
    page: page.success ? page.data : 0,
    colour: 'graphite',
    focus: null,
    madeAt: 0,
    kind: 'unread',
    raw: JSON.stringify(raw) ?? '',
  };
}

/** The text under which a mark is stored. What could not be read goes back as it came. */
export const markText = (mark: Mark): string => (mark.kind === 'unread' ? mark.raw : JSON.stringify(mark));

/** What a mark has bytes in. */
export function bytesIn(mark: Mark): readonly string[] {
  if (mark.kind === 'stamp' && mark.look.of === 'picture') return [mark.look.picture];
  if (mark.kind === 'foreign') return mark.picture ? [mark.pdf, mark.picture] : [mark.pdf];
  return [];
}
