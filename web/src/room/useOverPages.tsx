import type { CopyId, Mark, MarkId, PageView } from '@jotmark/core';
import { type ReactNode, useState } from 'react';
import { useSaidHere } from '../conversation/SaidHere.tsx';
import type { ShownPage } from '../paper/page-list.ts';
import { OwnNotes } from '../writing/OwnNotes.tsx';

/** What lies over the pages of a copy that is looked at closely: what was said at its places, and what its student noted. */
export function useOverPages(copyId: CopyId, marks: readonly Mark[]) {
  const saidHere = useSaidHere(copyId);
  const [open, setOpen] = useState<MarkId | null>(null);
  return (page: ShownPage, view: PageView): ReactNode => (
    <>
      {saidHere(page, view)}
      <OwnNotes
        marks={marks.filter((m) => m.document === page.document && m.page === page.page)}
        view={view}
        keeper={null}
        readOnly
        open={open}
        onOpen={setOpen}
      />
    </>
  );
}
