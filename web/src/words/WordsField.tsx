import type { MarginMark } from '@jotmark/core';
import { Bold, Italic, Link2, List, Mic, Paperclip, Sigma } from 'lucide-react';
import { type KeyboardEvent, type RefObject, use, useRef, useState } from 'react';
import { onDemand } from '../frame/on-demand.tsx';
import { afterPress } from '../frame/press.ts';
import { useHere } from '../frame/session.tsx';
import { tip } from '../frame/tip.ts';
import { formedBy, listed, putIn, type Selected, saidAt, selectedIn, sends, wrapped } from './form.ts';
import { GhostsHere } from './ghosts.ts';

const MoreTools = onDemand(() => import('./MoreTools.tsx').then((m) => m.MoreTools));
const DictateTool = onDemand(() => import('./DictateTool.tsx').then((m) => m.DictateTool));

interface Props {
  readonly label: string;
  readonly value: string;
  readonly most: number;
  readonly className: string;
  readonly placeholder?: string;
  readonly readOnly?: boolean;
  readonly field: RefObject<HTMLTextAreaElement | null>;
  readonly about?: MarginMark;
  /** Sends the words, as the button below the field does: Ctrl and Enter does it too. Phrases of the bank are offered above, so as not to cover that button. */
  onSend?(): void;
  onValue(words: string): void;
  onBlur?(): void;
  onKeyDown?(e: KeyboardEvent<HTMLTextAreaElement>): void;
}

/**
 * A field for words with a light form: bold and italic by their usual keys, lists go on by themselves, and a row of small tools while one writes. What
 * stands in it is what was typed.
 */
export function WordsField(p: Props) {
  const { field } = p;
  const [on, setOn] = useState(false);
  const [tool, setTool] = useState<'link' | 'formula' | 'file' | 'dictate' | null>(null);
  const Ghosts = use(GhostsHere);
  const role = useHere().session.person?.role;
  const holder = useRef<HTMLDivElement>(null);
  const selected = () => selectedIn(field.current!);
  const put = (next: Selected) => {
    p.onValue(next.words.slice(0, p.most));
    requestAnimationFrame(() => {
      field.current?.focus();
      field.current?.setSelectionRange(next.start, next.end);
    });
  };
  const onKeyDown = (e: KeyboardEvent<HTMLTextAreaElement>) => {
    const next = formedBy(e, selected);
    if (next) {
      e.preventDefault();
      e.stopPropagation();
      return put(next);
    }
    if (p.onSend && sends(e)) {
      e.preventDefault();
      return p.onSend();
    }
    p.onKeyDown?.(e);
  };
  const tools = [
    ['Bold', Bold, () => put(wrapped(selected(), '**'))],
    ['Italic', Italic, () => put(wrapped(selected(), '*'))],
    ['List', List, () => put(listed(selected()))],
    ['Link', Link2, () => setTool('link')],
    ['Formula', Sigma, () => setTool('formula')],
    ['Dictate', Mic, () => setTool(tool === 'dictate' ? null : 'dictate')],
    // Files are laid beside words by teachers.
    ...(role === 'teacher' ? ([['File', Paperclip, () => setTool('file')]] as const) : []),
  ] as const;
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: it only hears whether the cursor is within
    <div
      ref={holder}
      onFocus={() => setOn(true)}
      onBlur={(e) => {
        if (holder.current?.contains(e.relatedTarget as Node | null)) return;
        // A file is being chosen in a window of the system's: the words are not left.
        if (tool === 'file') return;
        p.onBlur?.();
        afterPress(() => {
          if (holder.current?.contains(document.activeElement)) return;
          setOn(false);
          setTool(null);
        });
      }}
    >
      <textarea
        ref={field}
        rows={1}
        dir="auto"
        aria-label={p.label}
        className={p.className}
        placeholder={p.placeholder}
        maxLength={p.most}
        readOnly={p.readOnly}
        value={p.value}
        onChange={(e) => p.onValue(e.target.value)}
        onKeyDown={onKeyDown}
      />
      {on && !p.readOnly && (
        <div
          role="toolbar"
          aria-label="Form of the words"
          className="flex gap-0.5 text-soft"
          onPointerDown={(e) => (e.target as HTMLElement).closest('input') || e.preventDefault()}
        >
          {tools.map(([label, Icon, act]) => (
            <button
              key={label}
              type="button"
              tabIndex={-1}
              aria-label={label}
              aria-pressed={label === 'Dictate' ? tool === 'dictate' : undefined}
              {...tip(label)}
              className="grid size-6 place-items-center rounded hover:bg-action-wash hover:text-action"
              onClick={act}
            >
              <Icon size={13} aria-hidden="true" />
            </button>
          ))}
        </div>
      )}
      {tool === 'dictate' && (
        <DictateTool onSay={(said) => put(saidAt(selected(), said))} onEnd={() => setTool(null)} />
      )}
      {tool && tool !== 'dictate' && (
        <MoreTools
          tool={tool}
          selected={selected}
          onPut={(said) => {
            setTool(null);
            if (said !== null) put(putIn(selected(), said));
            else field.current?.focus();
          }}
        />
      )}
      {on && Ghosts && (
        <Ghosts
          words={p.value}
          about={p.about ?? null}
          field={field}
          above={p.onSend !== undefined}
          take={p.onValue}
        />
      )}
    </div>
  );
}
