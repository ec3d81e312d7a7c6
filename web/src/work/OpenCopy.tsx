import type { PersonId, QuestionId, Work } from '@jotmark/core';
import { ChevronDown, ChevronUp, Redo2, Undo2 } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { IconButton } from '../frame/IconButton.tsx';
import { onDemand } from '../frame/on-demand.tsx';
import { useHere } from '../frame/session.tsx';
import { Waiting } from '../frame/states.tsx';
import { TopBar } from '../frame/TopBar.tsx';
import { useOnceTouched } from '../frame/useOnceTouched.ts';
import { SaveSign } from '../outbox/SaveSign.tsx';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';
import { plural } from '../time/words.ts';
import { CopyFiles } from './CopyFiles.tsx';
import { CopyPages } from './CopyPages.tsx';
import { crumbsOf } from './crumbs.ts';
import { FieldBar } from './FieldBar.tsx';
import { Task } from './Task.tsx';
import { useCopyKeeper } from './useCopyKeeper.ts';
import { type OpenCopyNow, useOpenCopy } from './useOpenCopy.ts';

/** Wanted at the end, and then perhaps without a network: loaded as soon as something is done here. */
const HandInDialog = onDemand(() => import('./HandInDialog.tsx').then((m) => m.HandInDialog));

/** Who comes: a student with work to do, on whatever is at hand. Reads, types, draws, adds; everything is kept; hands in when it is done. */
export function OpenCopy({ work, leave }: { work: Work; leave?: ReactNode }) {
  const { session } = useHere();
  const keeper = useCopyKeeper(work.row.copyId, work.state);
  if (!keeper) return <Waiting what="your copy" />;
  return <Open work={work} keeper={keeper} personId={session.person!.id} leave={leave} />;
}

interface OpenProps {
  readonly work: Work;
  readonly keeper: SheetKeeper;
  readonly personId: PersonId;
  readonly leave: ReactNode;
}

function Open({ work, keeper, personId, leave }: OpenProps) {
  const c = useOpenCopy(work, keeper, personId);
  const [handingIn, setHandingIn] = useState(false);
  const touched = useOnceTouched();
  const withPages = work.sheets.length > 0;
  return (
    <>
      <TopBar crumbs={crumbsOf(work)}>
        <SaveSign save={c.saving} waiting={c.kept.waiting} />
        {c.copy.ready && <Backs c={c} />}
        <button type="button" className="act" disabled={c.readOnly} onClick={() => setHandingIn(true)}>
          {work.handsIn ? 'Hand in' : 'I have done this'}
        </button>
      </TopBar>
      <main
        className={
          withPages
            ? 'flex min-h-0 flex-1 flex-col lg:flex-row'
            : 'mx-auto w-full max-w-2xl flex-1 overflow-y-auto p-5'
        }
      >
        <WhatToDo c={c} withPages={withPages} leave={leave} />
        {withPages && <CopyPages c={c} />}
      </main>
      <LargeField c={c} />
      {(touched || handingIn) && (
        <HandInDialog
          open={handingIn}
          work={work}
          unanswered={c.unanswered}
          onGo={(id) => {
            setHandingIn(false);
            c.setActive(id);
            goTo(id);
          }}
          onCancel={() => setHandingIn(false)}
          onHandIn={async (cover) => {
            await c.handIn(cover);
            setHandingIn(false);
          }}
        />
      )}
    </>
  );
}

function Backs({ c }: { c: OpenCopyNow }) {
  const { readOnly, kept, back } = c;
  return (
    <span className="flex text-soft">
      <IconButton
        label="Undo"
        icon={Undo2}
        disabled={readOnly || !(kept.canUndo || c.writing.writers.size > 0)}
        onClick={() => back('undo')}
      />
      <IconButton
        label="Redo"
        icon={Redo2}
        disabled={readOnly || !(kept.canRedo || c.writing.writers.size > 0)}
        onClick={() => back('redo')}
      />
    </span>
  );
}

/** Instructions and files, beside the pages; above them on a small screen, where they fold. */
function WhatToDo({ c, withPages, leave }: { c: OpenCopyNow; withPages: boolean; leave: ReactNode }) {
  const { work } = c;
  // Who has begun knows what to do: on a small screen the pages get the room.
  const [folded, setFolded] = useState(work.state.seq > 0 || c.phone);
  const Fold = folded ? ChevronDown : ChevronUp;
  return (
    <aside
      aria-label="What to do"
      className={`shrink-0 overflow-y-auto border-line bg-raised lg:max-h-none ${withPages ? 'max-h-[55%] border-b lg:w-[320px] lg:border-r lg:border-b-0' : 'rounded-lg shadow-sm'}`}
    >
      {withPages && (
        <button
          type="button"
          aria-expanded={!folded}
          className="flex min-h-11 w-full items-center gap-2 px-5 text-left font-bold lg:hidden"
          onClick={() => setFolded(!folded)}
        >
          <Fold size={18} aria-hidden="true" />
          What to do
          {work.files.length > 0 && (
            <span className="font-normal text-soft">, {plural(work.files.length, 'file', 'files')}</span>
          )}
        </button>
      )}
      <div className={`p-5 ${withPages && folded ? 'hidden lg:block' : ''}`}>
        {leave}
        {c.waits && <WaitingSign kept={c.kept.save === 'kept'} />}
        <Task work={work} />
        {work.handsIn && <CopyFiles work={work} readOnly={c.readOnly} />}
      </div>
    </aside>
  );
}

/** On a telephone the answer in hand is written large, above the keyboard. */
function LargeField({ c }: { c: OpenCopyNow }) {
  const { active, activeAt, copy } = c;
  if (!c.phone || !active || active.answer.kind === 'long' || c.readOnly) return null;
  return (
    <FieldBar
      key={active.id}
      question={active}
      number={copy.numbers.get(active.id) ?? ''}
      value={c.answerAt(active.id)}
      first={activeAt === 0}
      last={activeAt === copy.typed.length - 1}
      onType={c.answers.onType}
      onMove={(by) => c.setActive(copy.typed[activeAt + by]?.id ?? null)}
      onClose={() => c.setActive(null)}
    />
  );
}

function goTo(id: QuestionId): void {
  requestAnimationFrame(() => {
    const field = document.querySelector<HTMLElement>(`[data-question="${id}"]`);
    field?.scrollIntoView({ block: 'center' });
    field?.focus();
  });
}

function WaitingSign({ kept }: { kept: boolean }) {
  return (
    <p role="status" className="mb-4 rounded-lg border border-caution bg-paper p-3">
      <strong>Waits for the network.</strong>{' '}
      {kept
        ? 'Your copy is on this device as it stands and is handed in by itself as soon as there is a connection.'
        : 'This browser keeps nothing: leave this page open, and your copy is handed in by itself as soon as there is a connection.'}{' '}
      Your teacher sees when you pressed “Hand in”.
    </p>
  );
}
