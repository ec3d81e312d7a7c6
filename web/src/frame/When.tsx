import { useHere } from './session.tsx';
import { tip } from './tip.ts';

/** A moment as it is read now, "tomorrow 18:00"; pointed at it is said in full. */
export function When({ at }: { readonly at: number }) {
  const { clock } = useHere();
  return (
    <time dateTime={new Date(at).toISOString()} {...tip(clock.full(at))}>
      {clock.moment(at, Date.now())}
    </time>
  );
}
