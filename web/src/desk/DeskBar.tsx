import { BookMarked, ChevronLeft, ChevronRight, Columns2, Redo2, Undo2 } from 'lucide-react';
import { memo } from 'react';
import { IconButton } from '../frame/IconButton.tsx';
import { type Crumb, TopBar } from '../frame/TopBar.tsx';
import { PHONE, useMedia } from '../frame/useMedia.ts';
import type { DeskLayout } from '../layout/useDeskLayout.ts';
import { SaveSign } from '../outbox/SaveSign.tsx';
import type { KeeperView, SheetKeeper } from '../outbox/sheet-keeper.ts';
import { useKept } from '../outbox/useSheetKeeper.ts';
import { LayOut } from './LayOut.tsx';

interface Props {
  readonly crumbs: readonly Crumb[];
  readonly keeper: SheetKeeper;
  /** Words that are not even a change yet. */
  readonly typing: boolean;
  /** Nothing can be written now. */
  readonly fixed: boolean;
  /** Pages that were turned can be turned back. */
  readonly turned: { readonly canUndo: boolean; readonly canRedo: boolean };
  /** Which page is in sight and how large; empty before the paper lies there. */
  readonly where: string;
  readonly first: boolean;
  readonly last: boolean;
  readonly twoSides: boolean;
  readonly layout: DeskLayout;
  lay(change: Partial<DeskLayout>): void;
  readonly does: BarMoves;
}

/** What is done in the bar; the same for as long as it is shown. */
export interface BarMoves {
  onUndo(): void;
  onRedo(): void;
  onBefore(): void;
  onNext(): void;
  onBeside(): void;
  onBank(): void;
  onKeys(): void;
}

/** The bar above the desk: which copy, whether all is kept, and the few moves that belong to no pen. */
export const DeskBar = memo(function DeskBar(p: Props) {
  const phone = useMedia(PHONE);
  return (
    <TopBar crumbs={p.crumbs}>
      <KeptSign keeper={p.keeper} typing={p.typing} />
      <Backs keeper={p.keeper} fixed={p.fixed} turned={p.turned} does={p.does} />
      {p.where && (
        <span className="text-sm whitespace-nowrap text-soft tabular max-sm:hidden">{p.where}</span>
      )}
      <span className="flex items-center text-soft">
        <IconButton label="Previous copy" disabled={p.first} onClick={p.does.onBefore} icon={ChevronLeft} />
        <IconButton label="Next copy" disabled={p.last} onClick={p.does.onNext} icon={ChevronRight} />
        {!phone && (
          <>
            <IconButton
              label={p.twoSides ? 'Close the comparison' : 'Compare with …'}
              onClick={p.does.onBeside}
              icon={Columns2}
            />
            <IconButton label="Comment bank" onClick={p.does.onBank} icon={BookMarked} />
          </>
        )}
        <LayOut layout={p.layout} lay={p.lay} />
      </span>
      {phone && (
        <button
          type="button"
          className="quiet ml-auto !min-h-9 !py-1"
          onClick={() => p.lay({ only: p.layout.only === 'slip' ? 'paper' : 'slip' })}
        >
          {p.layout.only === 'slip' ? 'Paper' : 'Score slip'}
        </button>
      )}
      <button
        type="button"
        className="key !text-sm max-sm:hidden"
        aria-label="Keys at the desk"
        onClick={p.does.onKeys}
      >
        ?
      </button>
    </TopBar>
  );
});

const saveOf = (view: KeeperView) => view.save;
const waitingOf = (view: KeeperView) => view.waiting;
const undoOf = (view: KeeperView) => view.canUndo;
const redoOf = (view: KeeperView) => view.canRedo;

function KeptSign({ keeper, typing }: { keeper: SheetKeeper; typing: boolean }) {
  const save = useKept(keeper, saveOf);
  const waiting = useKept(keeper, waitingOf);
  return <SaveSign save={typing && save === 'saved' ? 'saving' : save} waiting={waiting} />;
}

function Backs({ keeper, fixed, turned, does }: Pick<Props, 'keeper' | 'fixed' | 'turned' | 'does'>) {
  const canUndo = useKept(keeper, undoOf) || turned.canUndo;
  const canRedo = useKept(keeper, redoOf) || turned.canRedo;
  return (
    <span className="flex items-center text-soft">
      <IconButton label="Undo" disabled={fixed || !canUndo} onClick={does.onUndo} icon={Undo2} />
      <IconButton label="Redo" disabled={fixed || !canRedo} onClick={does.onRedo} icon={Redo2} />
    </span>
  );
}
