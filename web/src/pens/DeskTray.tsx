import { HAND_TOOLS, MOST_PENS, PEN_KEYS, type Pen, type TrayId, type Trays, trayOut } from '@jotmark/core';
import { Settings2 } from 'lucide-react';
import { memo, type ReactNode, useState } from 'react';
import { Menu } from '../frame/menu.tsx';
import type { MenuEntry } from '../frame/menu-entry.ts';
import { onDemand } from '../frame/on-demand.tsx';
import { newId } from '../outbox/new-id.ts';
import { PenButton, TrayBox } from './PenTray.tsx';
import { TrayPens } from './TrayPens.tsx';
import type { TraysInHand } from './useTrays.ts';

/** Pens are changed now and then. */
const TrayEditor = onDemand(() => import('./TrayEditor.tsx').then((m) => m.TrayEditor));

const SIDES = { left: 'on the left', middle: 'in the middle', right: 'on the right' } as const;
const MOST_TRAYS = 8;

/** The teacher's own trays at the foot of the desk: pens to take, trays to swap, and all that changes them. */
export const DeskTray = memo(function DeskTray({
  hand,
  children,
}: {
  hand: TraysInHand;
  children?: ReactNode;
}) {
  const { trays } = hand;
  const tray = trayOut(trays);
  const [editing, setEditing] = useState<number | null>(null);
  const putPens = (pens: readonly Pen[]) => hand.keep(withTray(trays, { ...tray, pens: [...pens] }));
  return (
    <>
      <TrayBox>
        <TrayPens
          pens={tray.pens.map((pen, i) => ({ key: PEN_KEYS[i]!, pen, ungraded: !hand.graded }))}
          taken={hand.taken}
          onTake={hand.take}
          onOrder={putPens}
          onChange={(key) => setEditing(PEN_KEYS.indexOf(key as (typeof PEN_KEYS)[number]))}
        />
        <span className="mx-1 w-px self-stretch bg-line @max-[58rem]:hidden" />
        {HAND_TOOLS.map((at) => (
          <PenButton key={at.key} at={at} taken={at.key === hand.taken} onTake={() => hand.take(at.key)} />
        ))}
        {children}
        <Menu
          label={`Tray: ${tray.name}`}
          className="flex w-[58px] flex-col @max-[58rem]:w-12 items-center justify-center gap-0.5 rounded-lg px-1 text-[12px] hover:bg-raised"
          to="top end"
          wide="w-60"
          entries={entriesOf(hand, tray, () => setEditing(0))}
        >
          <Settings2 size={17} aria-hidden="true" />
          <span className="max-w-full truncate">{tray.name}</span>
        </Menu>
      </TrayBox>
      {editing !== null && (
        <TrayEditor
          tray={tray}
          first={Math.min(editing, tray.pens.length - 1)}
          most={MOST_PENS}
          onKeep={(next) => {
            setEditing(null);
            hand.keep(withTray(trays, next));
          }}
          onLeave={() => setEditing(null)}
        />
      )}
    </>
  );
});

const withTray = (trays: Trays, tray: Trays['trays'][number]): Trays => ({
  ...trays,
  trays: trays.trays.map((t) => (t.id === tray.id ? tray : t)),
});

/** What can be done with trays. */
function entriesOf(hand: TraysInHand, tray: Trays['trays'][number], onEdit: () => void): MenuEntry[] {
  const { trays } = hand;
  const entry = (
    key: string,
    words: string,
    onClick: () => void,
    more: Partial<MenuEntry> = {},
  ): MenuEntry => ({
    key,
    words: (
      <>
        <span className="w-3" aria-hidden="true">
          {more.chosen ? '•' : ''}
        </span>
        {words}
      </>
    ),
    onClick,
    ...more,
  });
  return [
    ...trays.trays.map((t, i) =>
      entry(t.id, t.name, () => hand.keep({ ...trays, out: i }), { chosen: i === trays.out }),
    ),
    entry('change', 'Edit pens …', onEdit, { parted: true }),
    entry(
      'copy',
      'Duplicate tray',
      () => {
        const copy = { ...tray, id: newId<TrayId>(), name: `${tray.name.slice(0, 24)} 2` };
        hand.keep({ ...trays, trays: [...trays.trays, copy], out: trays.trays.length });
      },
      { disabled: trays.trays.length >= MOST_TRAYS },
    ),
    entry(
      'away',
      'Delete tray',
      () => hand.keep({ ...trays, trays: trays.trays.filter((t) => t.id !== tray.id), out: 0 }),
      { disabled: trays.trays.length === 1 },
    ),
    ...(Object.keys(SIDES) as (keyof typeof SIDES)[]).map((side, i) =>
      entry(side, `Tray ${SIDES[side]}`, () => hand.keep({ ...trays, side }), {
        chosen: trays.side === side,
        parted: i === 0,
      }),
    ),
  ];
}
