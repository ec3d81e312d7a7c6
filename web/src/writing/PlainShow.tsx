import { memo, useEffect, useRef } from 'react';

/** What was just written: from which letter to which. */
export interface Came {
  readonly from: number;
  readonly to: number;
}

/** A text that grows by its words alone, as the trail has them: a paragraph a line. What was just written is shown, and brought into sight. */
export const PlainShow = memo(function PlainShow({
  words,
  came,
  label,
}: {
  words: string;
  came: Came | null;
  label: string;
}) {
  const shown = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (came) shown.current?.querySelector('mark')?.scrollIntoView({ block: 'nearest' });
  }, [came]);
  let from = 0;
  return (
    <div ref={shown} className="lined-text" role="document" aria-label={label} dir="auto">
      {words.split('\n').map((line, i) => {
        const start = from;
        from += line.length + 1;
        const [a, b] = came ? [came.from - start, came.to - start] : [-1, -1];
        const within = came && a <= line.length && b >= 0;
        return (
          <p key={i}>
            {within ? (
              <>
                {line.slice(0, Math.max(0, a))}
                <mark className="rounded-[2px] bg-action-wash text-inherit">
                  {line.slice(Math.max(0, a), b)}
                </mark>
                {line.slice(b)}
              </>
            ) : (
              line
            )}
          </p>
        );
      })}
    </div>
  );
});
