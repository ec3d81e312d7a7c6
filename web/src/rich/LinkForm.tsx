import { useId, useState } from 'react';
import { withScheme } from '../paper/about-file.ts';

/** The address of a link that is being made. */
export function LinkForm({ onLink }: { onLink(href: string): void }) {
  const field = useId();
  const [url, setUrl] = useState('');
  const href = withScheme(url);
  const good = /^(https?|mailto):/i.test(href) && URL.canParse(href) && url.trim() !== '';
  return (
    <div className="flex w-full items-center gap-2 py-1">
      <label htmlFor={field} className="text-sm text-soft">
        Address
      </label>
      <input
        id={field}
        className="field !min-h-8 flex-1 !py-1"
        value={url}
        onChange={(e) => setUrl(e.target.value)}
        onKeyDown={(e) => {
          if (e.key !== 'Enter') return;
          e.preventDefault();
          if (good) onLink(href);
        }}
      />
      <button type="button" className="quiet !min-h-8 !py-1" disabled={!good} onClick={() => onLink(href)}>
        Link
      </button>
    </div>
  );
}
