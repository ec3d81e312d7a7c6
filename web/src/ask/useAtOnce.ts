import { useRef, useState } from 'react';

/**
 * What is chosen shows at once, and until the server has it: what is read meanwhile, and was written before, does not undo it on the screen. `keep` ends when what
 * stands is the new value; when it fails the old one shows again, and to say so is its own task.
 */
export function useAtOnce<T>(stands: T, keep: (next: T) => Promise<unknown>): [shown: T, (next: T) => void] {
  const [chosen, setChosen] = useState<{ readonly value: T } | null>(null);
  const latest = useRef(0);
  const choose = async (next: T) => {
    latest.current++;
    const mine = latest.current;
    setChosen({ value: next });
    await keep(next).catch(() => {});
    if (latest.current === mine) setChosen(null);
  };
  return [chosen ? chosen.value : stands, choose];
}
