import { useEffect, useState } from 'react';

/**
 * What a field shows: what is being typed, until what is kept changes (it was committed, taken back, or came from
 * another tab). So a key renders its own field and nothing else.
 */
export function useTyped(kept: string): [shown: string, type: (value: string) => void] {
  const [typed, setTyped] = useState<string | null>(null);
  useEffect(() => setTyped(null), [kept]);
  return [typed ?? kept, setTyped];
}
