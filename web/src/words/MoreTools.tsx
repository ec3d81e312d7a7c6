import { fileLink } from '@jotmark/core';
import { useEffect, useRef, useState } from 'react';
import { outcomeThat, sendFiles } from '../api/order.ts';
import { sentenceOf } from '../api/sentences.ts';
import { FileInput } from '../frame/FileInput.tsx';
import { toast } from '../frame/toast.ts';
import { withScheme } from '../paper/about-file.ts';
import type { Selected } from './form.ts';

interface Props {
  readonly tool: 'link' | 'formula' | 'file';
  selected(): Selected;
  /** Puts words in the place of what is selected; null: nothing after all. */
  onPut(said: string | null): void;
}

/** What a link, a formula or a file needs to be told before it stands in the words. */
export function MoreTools(p: Props) {
  if (p.tool === 'link') return <LinkTool {...p} />;
  if (p.tool === 'formula') return <FormulaTool {...p} />;
  return <FileTool {...p} />;
}

function LinkTool({ selected, onPut }: Props) {
  const chosen = useRef(selected()).current;
  const [title, setTitle] = useState(chosen.words.slice(chosen.start, chosen.end));
  const [address, setAddress] = useState('');
  const href = withScheme(address);
  const good = /^(https?|mailto):/i.test(href) && URL.canParse(href) && address.trim() !== '';
  const done = () =>
    good &&
    onPut(`[${title.replace(/[[\]]/g, ' ').trim() || href}](${href.replace(/[()\s]/g, encodeURIComponent)})`);
  const keys = (e: React.KeyboardEvent) => {
    e.stopPropagation();
    if (e.key === 'Escape') onPut(null);
    if (e.key !== 'Enter') return;
    e.preventDefault();
    done();
  };
  return (
    <div className="mt-1 grid gap-1 rounded bg-tray p-1.5 text-[13px]">
      <input
        ref={(el) => {
          if (el && document.activeElement !== el && !el.dataset.had) {
            el.dataset.had = 'yes';
            el.focus();
          }
        }}
        className="field !min-h-7 !py-0.5"
        aria-label="Address of the link"
        placeholder="https://"
        maxLength={1900}
        value={address}
        onChange={(e) => setAddress(e.target.value)}
        onKeyDown={keys}
      />
      <input
        className="field !min-h-7 !py-0.5"
        aria-label="Title of the link"
        placeholder="title"
        maxLength={200}
        value={title}
        onChange={(e) => setTitle(e.target.value)}
        onKeyDown={keys}
      />
      <button type="button" className="quiet !min-h-7 !py-0.5" disabled={!good} onClick={done}>
        Add link
      </button>
    </div>
  );
}

/** For those who do not know how formulas are typed: what they look like, and what it puts. */
const PIECES = [
  ['½', '\\frac{1}{2}', 'Fraction'],
  ['x²', 'x^{2}', 'Power'],
  ['x₁', 'x_{1}', 'Index'],
  ['√', '\\sqrt{x}', 'Root'],
  ['×', '\\times ', 'Times'],
  ['÷', '\\div ', 'Divided by'],
  ['±', '\\pm ', 'Plus or minus'],
  ['≈', '\\approx ', 'About equal'],
  ['≤', '\\le ', 'At most'],
  ['≥', '\\ge ', 'At least'],
  ['≠', '\\ne ', 'Not equal'],
  ['°', '^{\\circ}', 'Degrees'],
  ['π', '\\pi ', 'Pi'],
  ['∠', '\\angle ', 'Angle'],
  ['→', '\\to ', 'Arrow'],
  ['Σ', '\\sum_{i=1}^{n}', 'Sum'],
] as const;

function FormulaTool({ selected, onPut }: Props) {
  const chosen = useRef(selected()).current;
  const [tex, setTex] = useState(chosen.words.slice(chosen.start, chosen.end).replace(/^\$|\$$/g, ''));
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => field.current?.focus(), []);
  const put = (piece: string) => {
    const el = field.current!;
    const [from, to] = [el.selectionStart ?? tex.length, el.selectionEnd ?? tex.length];
    setTex(tex.slice(0, from) + piece + tex.slice(to));
    el.focus();
  };
  const done = () => onPut(tex.trim() ? `$${tex.trim().replaceAll('$', '')}$` : null);
  return (
    <div className="mt-1 grid gap-1 rounded bg-tray p-1.5 text-[13px]">
      <input
        ref={field}
        className="field !min-h-7 !py-0.5 font-mono"
        aria-label="Formula"
        maxLength={490}
        value={tex}
        onChange={(e) => setTex(e.target.value)}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === 'Escape') onPut(null);
          if (e.key !== 'Enter') return;
          e.preventDefault();
          done();
        }}
      />
      <div className="flex flex-wrap gap-0.5">
        {PIECES.map(([sign, piece, name]) => (
          <button
            key={name}
            type="button"
            aria-label={name}
            className="grid size-7 place-items-center rounded border border-line bg-paper hover:border-action"
            onClick={() => put(piece)}
          >
            {sign}
          </button>
        ))}
      </div>
      <button type="button" className="quiet !min-h-7 !py-0.5" onClick={done}>
        Add formula
      </button>
    </div>
  );
}

function FileTool({ onPut }: Props) {
  const input = useRef<HTMLInputElement>(null);
  const [busy, setBusy] = useState(false);
  const send = async (file: File | undefined) => {
    if (!file) return onPut(null);
    setBusy(true);
    try {
      const outcome = await sendFiles('addHelpFile', {}, file);
      const { id, name } = outcomeThat('document', outcome).document;
      onPut(fileLink(name.replace(/\.[^.]{1,5}$/, ''), id));
    } catch (error) {
      toast.error(`The file was not added; your words stand. ${sentenceOf(error)}`);
      onPut(null);
    }
  };
  return (
    <div className="mt-1 flex items-center gap-2 rounded bg-tray p-1.5 text-[13px]">
      <button
        type="button"
        className="quiet !min-h-7 !py-0.5"
        disabled={busy}
        onClick={() => input.current?.click()}
      >
        {busy ? 'Adding the file …' : 'Choose a file'}
      </button>
      <button type="button" className="text-soft hover:text-action" onClick={() => onPut(null)}>
        Cancel
      </button>
      <FileInput at={input} accept="" label="File for the student" onFiles={(files) => send(files[0])} />
    </div>
  );
}
