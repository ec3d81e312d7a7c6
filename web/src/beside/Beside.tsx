import type { CopyId, DocumentState, HandBackId, Mark } from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { memo, useMemo, useRef, useState } from 'react';
import { Link } from 'react-router';
import { call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { Divider } from '../frame/Divider.tsx';
import { IconButton } from '../frame/IconButton.tsx';
import { useHere } from '../frame/session.tsx';
import { Trouble, Waiting } from '../frame/states.tsx';
import { useZoom } from '../hand/useZoom.ts';
import { LEAST_SIZES, MOST_SIZES } from '../layout/useDeskLayout.ts';
import { MarkedPageStack } from '../margin/MarkedPageStack.tsx';
import { MARGIN_FOLDED, NO_MARGIN, SIGNS_ONLY } from '../margin/margin-look.ts';
import { marksByPage } from '../paper/marks-by-page.ts';
import { usePageList } from '../paper/page-list.ts';

interface Choice {
  readonly name: string;
  readonly documents: readonly DocumentState[];
  readonly marks: readonly Mark[];
  /** As what it went back; null: it did not. */
  readonly back: HandBackId | null;
}

const NO_MARKS: readonly Mark[] = [];

/** Something else beside the copy, to compare and to look things up: another document, an earlier hand-in, the clean worksheet, the material. */
export const Beside = memo(function Beside({
  copyId,
  documents,
  share,
  onShare,
  onClose,
}: {
  copyId: CopyId;
  /** Of the hand-in on the desk. */
  documents: readonly DocumentState[];
  /** Of the room for both, in per cent. */
  share: number;
  onShare(to: number): void;
  onClose(): void;
}) {
  const { clock } = useHere();
  const beside = useQuery({
    queryKey: keys.beside(copyId),
    queryFn: () => call('beside', { params: { copyId } }),
  });
  const choices = useMemo((): Choice[] => {
    const other = beside.data;
    if (!other) return [];
    return [
      ...other.earlier.map((h) => ({
        name: `hand-in ${h.number}, ${clock.moment(h.handedInAt, Date.now())}`,
        documents: h.documents,
        marks: h.marks,
        back: h.handBackId,
      })),
      ...other.materials.map(({ worksheet, document }) => ({
        name: worksheet ? `clean: ${document.name}` : document.name,
        documents: [document],
        marks: NO_MARKS,
        back: null,
      })),
      ...documents
        .filter((d) => d.shows === 'pages')
        .map((d) => ({ name: `this hand-in: ${d.name}`, documents: [d], marks: NO_MARKS, back: null })),
    ];
  }, [beside.data, documents, clock]);
  const [at, setAt] = useState(0);
  const choice = choices[at] ?? choices[0];
  return (
    <section
      aria-label="Beside the copy"
      className="relative flex min-w-0 flex-col border-l border-line bg-tray"
      style={{ flex: `${share} 1 0` }}
    >
      <Divider
        label="Width of the comparison"
        edge="left"
        value={share}
        least={LEAST_SIZES.beside}
        most={MOST_SIZES.beside}
        onValue={onShare}
      />
      <div className="flex items-center gap-2 border-b border-line px-3 py-1.5">
        <select
          className="field !min-h-8 min-w-0 flex-1 !py-1 text-sm"
          aria-label="Comparison"
          value={at}
          onChange={(e) => setAt(Number(e.target.value))}
        >
          {choices.map((c, i) => (
            <option key={c.name} value={i}>
              {c.name}
            </option>
          ))}
        </select>
        {choice?.back && (
          <Link
            to={`/desk/${copyId}/as-student?back=${choice.back}`}
            className="shrink-0 text-sm text-action underline"
          >
            With grade and words
          </Link>
        )}
        <IconButton label="Close" icon={X} onClick={onClose} />
      </div>
      {beside.error ? (
        <Trouble error={beside.error} again={() => beside.refetch()} />
      ) : choice ? (
        <Pages key={choice.name} choice={choice} />
      ) : (
        <Waiting what="what lies beside" />
      )}
    </section>
  );
});

function Pages({ choice }: { choice: Choice }) {
  const scroller = useRef<HTMLDivElement>(null);
  const { pages, settled } = usePageList(choice.documents);
  const ready = settled && pages.length > 0;
  const withMargin = choice.marks.length > 0;
  const { zoom, measured } = useZoom(scroller, pages, ready, withMargin ? MARGIN_FOLDED : 0);
  const byPage = useMemo(() => marksByPage(choice.marks, pages, []), [choice.marks, pages]);
  const [active, setActive] = useState<string | null>(null);
  if (settled && pages.length === 0)
    return <p className="p-5 text-soft">There are no pages to look at in this.</p>;
  return (
    <div
      ref={scroller}
      data-scroller
      tabIndex={0}
      role="region"
      aria-label="Pages beside the copy"
      className="isolate min-h-0 flex-1 overflow-auto p-4"
    >
      {measured && (
        <MarkedPageStack
          pages={pages}
          zoom={zoom}
          byPage={byPage}
          picked={choice.marks.filter((m) => m.id === active)}
          active={active}
          look={withMargin ? SIGNS_ONLY : NO_MARGIN}
          onActivate={(note) => setActive(note?.id ?? null)}
        />
      )}
    </div>
  );
}
