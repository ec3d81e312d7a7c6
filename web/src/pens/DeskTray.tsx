import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { HAND_TOOLS, MOST_PENS, PEN_KEYS, type Pen, type TrayId, type Trays, trayOut } from '@jotmark/core';
import { Settings2 } from 'lucide-react';
import { memo, type ReactNode, useState } from 'react';
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
          pens={tray.pens.map((pen, i) => ({ key: PEN_KEYS[i]!, pen }))}
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
        <Menu>
          <MenuButton
            className="flex w-[58px] flex-col @max-[58rem]:w-12 items-center justify-center gap-0.5 rounded-lg px-1 text-[12px] hover:bg-raised"
            aria-label={`Trays: ${tray.name} lies out`}
          >
            <Settings2 size={17} aria-hidden="true" />
            <span className="max-w-full truncate">{tray.name}</span>
          </MenuButton>
          <MenuItems
            anchor={{ to: 'top end', gap: 8 }}
            className="z-40 w-60 rounded-lg border border-line bg-raised p-1 shadow-xl outline-none"
          >
            {trays.trays.map((t, i) => (
              <Entry key={t.id} chosen={i === trays.out} onClick={() => hand.keep({ ...trays, out: i })}>
                {t.name}
              </Entry>
            ))}
            <Line />
            <Entry onClick={() => setEditing(0)}>Change these pens …</Entry>
            <Entry
              disabled={trays.trays.length >= MOST_TRAYS}
              onClick={() => {
                const copy = { ...tray, id: newId<TrayId>(), name: `${tray.name.slice(0, 24)} 2` };
                hand.keep({ ...trays, trays: [...trays.trays, copy], out: trays.trays.length });
              }}
            >
              Copy this tray
            </Entry>
            <Entry
              disabled={trays.trays.length === 1}
              onClick={() =>
                hand.keep({ ...trays, trays: trays.trays.filter((t) => t.id !== tray.id), out: 0 })
              }
            >
              Take this tray away
            </Entry>
            <Line />
            {(Object.keys(SIDES) as (keyof typeof SIDES)[]).map((side) => (
              <Entry key={side} chosen={trays.side === side} onClick={() => hand.keep({ ...trays, side })}>
                Tray {SIDES[side]}
              </Entry>
            ))}
          </MenuItems>
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

function Entry({
  children,
  chosen,
  disabled = false,
  onClick,
}: {
  children: React.ReactNode;
  chosen?: boolean;
  disabled?: boolean;
  onClick(): void;
}) {
  return (
    <MenuItem disabled={disabled}>
      <button
        type="button"
        aria-current={chosen}
        className="flex w-full items-center gap-2 rounded px-2.5 py-1.5 text-left text-sm data-disabled:text-soft data-focus:bg-action-wash"
        onClick={onClick}
      >
        <span className="w-3" aria-hidden="true">
          {chosen ? '•' : ''}
        </span>
        {children}
      </button>
    </MenuItem>
  );
}

const Line = () => <div className="my-1 border-t border-line" />;
