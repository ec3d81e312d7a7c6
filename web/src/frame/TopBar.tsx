import { ChevronLeft } from 'lucide-react';
import { Fragment, type ReactNode } from 'react';
import { Link } from 'react-router';
import { sentenceOf } from '../api/sentences.ts';
import { Emblem } from '../look/glyphs.tsx';
import { GoTo } from './GoTo.tsx';
import { NewsBell } from './NewsBell.tsx';
import { useHere } from './session.tsx';
import { toast } from './toast.ts';
import { useTitle } from './useTitle.ts';

export interface Crumb {
  readonly text: string;
  readonly to?: string;
}

/** The bar that every view shares: where I am, then what this view adds, then who I am. */
export function TopBar({ crumbs, children }: { crumbs: readonly Crumb[]; children?: ReactNode }) {
  const { session, leave } = useHere();
  useTitle(crumbs.map((c) => c.text));
  const out = async () => {
    try {
      await leave();
    } catch (error) {
      toast.error(sentenceOf(error));
    }
  };
  return (
    <header className="flex min-h-12 flex-wrap items-center gap-x-3 border-b border-line bg-tray px-5 max-sm:gap-x-1 max-sm:px-3 xl:flex-nowrap">
      <Link to="/" aria-label="Jotmark, home" className="shrink-0 py-2">
        <Emblem />
      </Link>
      {session.person && <GoTo role={session.person.role} onOut={out} />}
      <nav
        aria-label="Where you are"
        className="flex min-w-0 items-center gap-3 text-soft max-sm:flex-1 max-sm:gap-1"
      >
        {crumbs.map((c, i) => (
          <Fragment key={c.text}>
            {i > 0 && (
              <span aria-hidden="true" className="max-sm:hidden">
                /
              </span>
            )}
            {c.to ? (
              // On a telephone the way back is a sign: the name of what one looks at needs the room.
              <Link
                to={c.to}
                className={`shrink-[4] truncate hover:text-action hover:underline max-sm:grid max-sm:size-9 max-sm:shrink-0 max-sm:place-items-center ${i === crumbs.length - 2 ? '' : 'max-sm:hidden'}`}
              >
                <ChevronLeft size={20} aria-hidden="true" className="sm:hidden" />
                <span className="max-sm:sr-only">{c.text}</span>
              </Link>
            ) : (
              <h1 className="truncate text-[17px] font-bold text-text">{c.text}</h1>
            )}
          </Fragment>
        ))}
      </nav>
      <div className="ml-auto flex min-w-0 flex-wrap items-center gap-x-4 gap-y-1 max-sm:contents xl:shrink-0 xl:flex-nowrap">
        {children && (
          <div className="flex flex-wrap items-center gap-x-4 gap-y-1 max-sm:order-last max-sm:w-full max-sm:gap-x-3 sm:contents max-sm:[&_a:not(.act):not(.quiet)]:py-2">
            {children}
          </div>
        )}
        {session.person && (
          <>
            <NewsBell />
            <Link
              to="/account"
              className="hidden text-sm whitespace-nowrap text-soft hover:text-action hover:underline 2xl:inline"
            >
              {session.person.given} {session.person.family}
            </Link>
            <button
              type="button"
              className="text-sm whitespace-nowrap text-soft underline-offset-2 hover:text-action hover:underline max-sm:hidden"
              onClick={out}
            >
              Sign out
            </button>
          </>
        )}
      </div>
    </header>
  );
}
