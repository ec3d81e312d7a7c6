import type { Desk } from '@jotmark/core';
import { Link } from 'react-router';
import { WordsFold } from '../conversation/WordsFold.tsx';
import { off } from '../frame/off.ts';
import type { KeeperView, SheetKeeper } from '../outbox/sheet-keeper.ts';
import { useKept } from '../outbox/useSheetKeeper.ts';
import { Elsewhere } from './Elsewhere.tsx';

const isSaved = (view: KeeperView) => view.save === 'saved';

/** What else belongs to a copy, at the foot of its slip: words with the student, its PDF, how the marking and the copy came to be. */
export function SlipFoot({
  desk,
  keeper,
  readOnly,
  looksBack,
  onLookBack,
}: {
  desk: Desk;
  keeper: SheetKeeper;
  readOnly: boolean;
  looksBack: boolean;
  onLookBack(): void;
}) {
  const saved = useKept(keeper, isSaved);
  return (
    <>
      <div className="mt-4">
        <WordsFold
          copyId={desk.copyId}
          title={`Messages with ${desk.student.given}`}
          withWhom={desk.student.given}
          className="text-sm text-soft"
        />
      </div>
      <Elsewhere handInId={desk.handIn.id} keeper={keeper} readOnly={readOnly || looksBack} />
      {!readOnly && (
        <p className="mt-3 border-t border-line pt-3 text-sm">
          <button
            type="button"
            className="text-left text-action hover:underline"
            {...off(!saved && 'Something is still being saved.')}
            onClick={onLookBack}
          >
            Earlier versions
          </button>
        </p>
      )}
      <p className="mt-3 border-t border-line pt-3 text-sm">
        <Link to={`/copies/${desk.copyId}/trail`} className="text-action hover:underline">
          Working trail
        </Link>
      </p>
    </>
  );
}
