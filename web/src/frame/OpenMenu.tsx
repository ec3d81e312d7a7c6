import { MenuButton, MenuItem, MenuItems, Menu as Shell } from '@headlessui/react';
import { useEffect, useRef } from 'react';
import type { MenuProps } from './menu-entry.ts';
import { tip } from './tip.ts';

/** The menu itself. It comes because somebody pressed its button, so it comes open. */
export function OpenMenu({
  label,
  told,
  className,
  children,
  to,
  wide,
  entries,
  openNow,
}: MenuProps & { openNow: boolean }) {
  const button = useRef<HTMLButtonElement>(null);
  const first = useRef(openNow);
  useEffect(() => {
    if (!first.current) return;
    first.current = false;
    button.current?.focus();
    button.current?.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));
  }, []);
  return (
    <Shell>
      <MenuButton ref={button} aria-label={label} className={className} {...tip(told ? label : undefined)}>
        {children}
      </MenuButton>
      <MenuItems
        anchor={{ to, gap: to === 'top end' ? 8 : 6 }}
        className={`z-40 rounded-lg border border-line bg-raised p-1 text-text shadow-xl outline-none ${wide}`}
      >
        {entries.map((entry) => (
          <div key={entry.key}>
            {entry.parted && <div className="my-1 border-t border-line" />}
            <MenuItem disabled={entry.disabled ?? false}>
              <button
                type="button"
                aria-current={entry.chosen}
                className="flex w-full items-center gap-2 rounded px-2.5 py-1.5 text-left text-sm data-disabled:text-soft data-focus:bg-action-wash"
                onClick={entry.onClick}
              >
                {entry.words}
              </button>
            </MenuItem>
          </div>
        ))}
      </MenuItems>
    </Shell>
  );
}
