import { formulaAt } from '@jotmark/core';
import { Fragment, type ReactNode } from 'react';
import { Formula } from '../words/WordsShow.tsx';

/** Words with the formulas in them drawn. */
export function WordsFormula({ words }: { words: string }) {
  const parts: ReactNode[] = [];
  let from = 0;
  for (let i = words.indexOf('$'); i >= 0; i = words.indexOf('$', i)) {
    const found = formulaAt(words, i);
    if (found) {
      parts.push(words.slice(from, i), <Formula tex={found.tex} />);
      from = i + found.length;
    }
    i += found ? found.length : 1;
  }
  parts.push(words.slice(from));
  return parts.map((part, i) => <Fragment key={i}>{part}</Fragment>);
}
