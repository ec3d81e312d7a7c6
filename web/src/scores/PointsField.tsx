import { type InputHTMLAttributes, type Ref, useId, useRef, useState } from 'react';
import { useKeptText } from '../outbox/kept-text.ts';

/** What was typed, read: a value, or why it is none. */
export type Read =
  | { readonly ok: true; readonly value: number | null }
  | { readonly ok: false; readonly why: string };

interface Props
  extends Omit<
    InputHTMLAttributes<HTMLInputElement>,
    'value' | 'onChange' | 'onBlur' | 'onFocus' | 'onKeyDown'
  > {
  readonly label: string;
  /** In hundredths; null: none. */
  readonly value: number | null;
  /** Where this browser keeps what is typed and not finished. */
  readonly place: string;
  readonly inputRef?: Ref<HTMLInputElement>;
  read(text: string): Read;
  show(value: number): string;
  onValue(value: number | null): void;
  /** What Enter goes on to when a value was taken; without it the field is left. */
  onEnter?(): void;
  /** Where nothing stands and nothing is typed, Enter does this first: an offer is taken. */
  onEmpty?(): boolean;
}

/**
 * The one field for grades and points, wherever they are typed. A number is one change when it is finished: by Enter, Tab, or leaving. Until then what is typed
 * is a draft, kept in this browser. Coming in selects what stands there. What cannot be taken stays to be seen with its reason, the last good one beside it, until
 * it is mended; Escape brings that one back.
 */
export function PointsField({
  label,
  value,
  place,
  inputRef,
  read,
  show,
  onValue,
  onEnter,
  onEmpty,
  className = '',
  ...rest
}: Props) {
  const why = useId();
  const [kept, keep] = useKeptText(place);
  const [inIt, setInIt] = useState(false);
  // What stands in the field while it is being emptied is nothing, which no place can keep.
  const [emptied, setEmptied] = useState(false);
  const given = useRef(false);
  const shown = value === null ? '' : show(value);
  const typed = emptied ? '' : kept === '' ? null : kept;
  const draft = typed === null ? null : read(typed);
  const refused = !inIt && draft && !draft.ok ? draft.why : null;
  const drop = () => {
    keep('');
    setEmptied(false);
  };
  /** Gives the value that was typed to whoever keeps it; false: it cannot be taken, and stays. */
  const finish = (): boolean => {
    if (!draft) return true;
    if (!draft.ok) return false;
    drop();
    if (draft.value !== value) onValue(draft.value);
    return true;
  };
  return (
    <span className="relative inline-block">
      <input
        {...rest}
        ref={inputRef}
        aria-label={label}
        aria-invalid={refused !== null}
        aria-describedby={refused === null ? rest['aria-describedby'] : why}
        inputMode="decimal"
        autoComplete="off"
        maxLength={20}
        className={`${className} ${refused === null ? '' : '!border-caution'}`}
        value={typed ?? shown}
        onFocus={(e) => {
          setInIt(true);
          given.current = false;
          e.currentTarget.select();
        }}
        onChange={(e) => {
          given.current = false;
          setEmptied(e.target.value === '');
          keep(e.target.value);
        }}
        onBlur={() => {
          setInIt(false);
          if (!given.current) finish();
        }}
        onKeyDown={(e) => {
          if (e.key === 'Escape') {
            drop();
            given.current = true;
            e.currentTarget.blur();
          } else if (e.key === 'Enter' && (e.ctrlKey || e.metaKey)) {
            // What it does besides is the view's: a field that goes away is not left first.
            given.current = finish();
          } else if (e.key === 'Enter') {
            e.preventDefault();
            if (typed === null && value === null && onEmpty?.())
              return onEnter ? onEnter() : e.currentTarget.blur();
            const fine = finish();
            given.current = fine;
            if (fine && onEnter) onEnter();
            else if (fine) e.currentTarget.blur();
            else {
              setInIt(false);
              e.currentTarget.select();
            }
          }
        }}
      />
      {refused !== null && (
        <span
          id={why}
          role="alert"
          className="absolute top-full right-0 z-20 mt-1 w-max max-w-64 rounded border border-caution bg-raised px-2 py-1 text-left text-[13px] leading-snug font-normal text-caution shadow-sm"
        >
          {refused} {shown ? `${shown} stays.` : 'Nothing is kept yet.'}
        </span>
      )}
    </span>
  );
}
