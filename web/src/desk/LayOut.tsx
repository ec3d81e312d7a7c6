import { LayoutPanelLeft } from 'lucide-react';
import { memo } from 'react';
import { Menu } from '../frame/menu.tsx';
import type { DeskLayout } from '../layout/useDeskLayout.ts';

/** What lies on the desk and where: each part folds, the margin changes sides, the table is darker for the evening. */
export const LayOut = memo(function LayOut({
  layout,
  lay,
}: {
  layout: DeskLayout;
  lay(change: Partial<DeskLayout>): void;
}) {
  const entries: readonly (readonly [
    words: string,
    on: boolean,
    change: Partial<DeskLayout>,
    key?: string,
  ])[] = [
    ['Score slip', layout.slip, { slip: !layout.slip, only: null }, 's'],
    ['Copies', layout.strip, { strip: !layout.strip, only: null }, 'i'],
    ['Pages', layout.pages, { pages: !layout.pages, only: null }, 'k'],
    [
      'Wide margin',
      layout.margin === 'wide',
      { margin: layout.margin === 'wide' ? 'narrow' : 'wide', only: null },
      'f',
    ],
    ['Margin on the left', layout.side === 'left', { side: layout.side === 'left' ? 'right' : 'left' }],
    ['Dark table', layout.dark, { dark: !layout.dark }],
    ['Paper only', layout.only === 'paper', { only: layout.only === 'paper' ? null : 'paper' }],
    ['Slip only', layout.only === 'slip', { only: layout.only === 'slip' ? null : 'slip' }],
  ];
  return (
    <Menu
      label="Layout"
      told
      className="grid size-8 place-items-center rounded hover:bg-raised"
      to="bottom end"
      wide="w-56"
      entries={entries.map(([words, on, change, key]) => ({
        key: words,
        onClick: () => lay(change),
        words: (
          <>
            <span
              aria-hidden="true"
              className={`size-3 rounded-sm border ${on ? 'border-action bg-action' : 'border-line-strong'}`}
            />
            {words}
            <span className="sr-only">{on ? ', on' : ', off'}</span>
            {key && <span className="key ml-auto">{key}</span>}
          </>
        ),
      }))}
    >
      <LayoutPanelLeft size={18} aria-hidden="true" />
    </Menu>
  );
});
