import { formatPoints, type Pen, penTitle } from '@jotmark/core';
import type { ComponentProps, ReactNode } from 'react';
import { tip } from '../frame/tip.ts';
import { MarkItMakes } from '../look/pen-mark.tsx';

export interface PenAtKey {
  readonly key: string;
  readonly pen: Pen;
  /** Where work is not graded a stamp says no points. */
  readonly ungraded?: boolean;
}

interface Props {
  readonly pens: readonly PenAtKey[];
  readonly taken: string;
  onTake(key: string): void;
}

/** What pens lie in, near the writing hand. */
export function TrayBox({ children }: { children: ReactNode }) {
  return (
    <div
      role="toolbar"
      aria-label="Pen tray"
      className="flex max-w-full flex-wrap justify-center max-sm:flex-nowrap max-sm:justify-start max-sm:overflow-x-auto max-sm:[&_button]:shrink-0 rounded-xl border border-line bg-tray p-1.5 shadow-lg"
      data-own-pointer
    >
      {children}
    </div>
  );
}

/** Pens in a row, each showing the mark it makes. Its key takes it. */
export function PenTray({ pens, taken, onTake }: Props) {
  return (
    <TrayBox>
      {pens.map((at) => (
        <PenButton key={at.key} at={at} taken={at.key === taken} onTake={() => onTake(at.key)} />
      ))}
    </TrayBox>
  );
}

export interface ButtonProps {
  readonly at: PenAtKey;
  readonly taken: boolean;
  readonly sorting?: ComponentProps<'button'>;
  onTake(): void;
  onChange?(): void;
}

/** One pen to take. */
export function PenButton({
  at: { key, pen, ungraded },
  taken,
  sorting = {},
  onTake,
  onChange,
}: ButtonProps) {
  return (
    <button
      {...sorting}
      type="button"
      aria-pressed={taken}
      aria-keyshortcuts={key}
      aria-label={penTitle(pen)}
      {...tip(titleOf(pen))}
      className={`relative flex w-14 flex-col @max-[58rem]:w-12 items-center gap-0.5 rounded-lg border-2 pt-2 pb-1 ${taken ? 'border-action bg-raised' : 'border-transparent hover:bg-raised'}`}
      onClick={onTake}
      onDoubleClick={onChange}
    >
      <span className="absolute top-0 left-1 text-[10px] leading-3 text-soft" aria-hidden="true">
        {key}
      </span>
      <span className="grid h-6 place-items-center">
        <MarkItMakes pen={pen} />
      </span>
      <span className="max-w-full truncate text-[12px] leading-tight whitespace-nowrap">
        {pen.name}
        {pen.tool === 'stamp' && pen.points !== null && !ungraded && ` ${formatPoints(pen.points)}`}
      </span>
    </button>
  );
}

/** What a pen is and its name; and what its marks are about. */
const titleOf = (pen: Pen): string =>
  'focus' in pen && pen.focus && pen.focus !== pen.name
    ? `${penTitle(pen)}, about ${pen.focus}`
    : penTitle(pen);
