import type { ReactNode } from 'react';

/** The name of a document above its first page, where several lie in one stack. */
export function PageHeading({ children }: { children: ReactNode }) {
  return <h2 className="mb-1.5 max-w-[60ch] truncate text-sm font-semibold text-soft">{children}</h2>;
}
