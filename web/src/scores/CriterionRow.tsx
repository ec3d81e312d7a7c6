import {
  type Criterion,
  type CriterionScore,
  halfStep,
  levelSign,
  levelsOf,
  standsWords,
} from '@jotmark/core';
import { type KeyboardEvent, memo, useState } from 'react';
import { tip } from '../frame/tip.ts';
import { useGrowingField } from '../frame/useGrowingField.ts';
import { WordsField } from '../words/WordsField.tsx';
import { WordsShow } from '../words/WordsShow.tsx';
import { DescriptorWords } from './DescriptorWords.tsx';
import { criterionRowId } from './ids.ts';
import { type ScoreMoves, standsAtPlace } from './score-moves.ts';

interface Props {
  readonly criterion: Criterion;
  readonly score: CriterionScore | null;
  /** The same criterion midway; null: there was none. */
  readonly midway: CriterionScore | null;
  readonly moves: ScoreMoves;
  readonly readOnly: boolean;
  /** Whether levels are called by their points: where there is a grade. */
  readonly numbers: boolean;
  /** All its descriptors are shown. */
  readonly unfolded: boolean;
  /** To the next row, or the one before. */
  onGo(by: 1 | -1): void;
}

/** One criterion: its levels as keys, half ways between them, what the level says, and a word on it. */
export const CriterionRow = memo(function CriterionRow(p: Props) {
  const { criterion, score, midway, moves, readOnly } = p;
  const [writes, setWrites] = useState(false);
  const stands = score?.stands ?? null;
  const at = levelsOf(criterion, score);
  const shown = p.unfolded ? criterion.levels : at;
  const onKeyDown = (e: KeyboardEvent) => {
    if ((e.target as HTMLElement).matches('textarea, input, [role="group"][tabindex]') || readOnly) return;
    if (!takeKey(e, p, () => setWrites(true))) return;
    e.preventDefault();
    e.stopPropagation();
  };
  const was = standsWords(criterion, midway, p.numbers);
  const now = standsWords(criterion, score, p.numbers);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: keys of the radios in it come by here
    <div className="group mt-3" onKeyDown={onKeyDown}>
      <div className="flex items-baseline gap-2 text-[14px]">
        <span className="min-w-0 flex-1 font-semibold">{criterion.name}</span>
        {was && <span className="text-[12px] text-soft">midway {was}</span>}
        <span className="max-w-[55%] text-right text-soft tabular">{now}</span>
      </div>
      <LevelKeys p={p} />
      {stands?.is === 'between' && !p.unfolded && <p className="text-[13px] text-soft">Between:</p>}
      {shown.length > 0 && (
        <ul className="mt-0.5 text-[13px] leading-snug text-soft">
          {shown.map((level, i) => (
            <li key={level.id} className={at.includes(level) ? 'text-text' : ''}>
              {(p.unfolded || shown.length > 1) && (
                <b className="mr-1.5 tabular">
                  {level.name || levelSign(level, i, p.numbers)}
                  {level.descriptor && ':'}
                </b>
              )}
              <DescriptorWords
                level={level}
                had={score?.had ?? []}
                onHad={readOnly ? null : (had) => moves.had(criterion, had)}
              />
            </li>
          ))}
        </ul>
      )}
      <CriterionWords p={p} writes={writes} onWrites={setWrites} />
    </div>
  );
});

/** One key a criterion; true where it was one of ours. */
function takeKey(e: KeyboardEvent, { criterion, score, moves, onGo }: Props, write: () => void): boolean {
  const digit = /^(?:Digit|Numpad)([1-9])$/.exec(e.code)?.[1];
  if (digit && !e.ctrlKey && !e.metaKey) {
    const place = Number(digit) - 1;
    if (e.altKey) {
      moves.all(place);
      return true;
    }
    const stands = standsAtPlace(criterion, place, e.shiftKey);
    if (!stands) return true;
    moves.stand(criterion, stands);
    onGo(1);
    return true;
  }
  if (e.ctrlKey || e.metaKey || e.altKey) return false;
  switch (e.key) {
    case 'x':
    case '0':
      moves.stand(criterion, { is: 'not-shown' });
      onGo(1);
      return true;
    case '.':
    case ',': {
      const half = halfStep(criterion, score);
      if (half) moves.stand(criterion, half);
      return true;
    }
    case 'Backspace':
    case 'Delete':
      moves.stand(criterion, null);
      return true;
    case 'ArrowDown':
    case 'ArrowUp':
      onGo(e.key === 'ArrowDown' ? 1 : -1);
      return true;
    case 'Enter':
      write();
      return true;
    case 'Escape':
      (e.target as HTMLElement).blur();
      return true;
    default:
      return false;
  }
}

function LevelKeys({ p }: { p: Props }) {
  const { criterion, score, moves, readOnly } = p;
  const stands = score?.stands ?? null;
  const { levels } = criterion;
  const on = (id: string) => stands?.is === 'level' && stands.level === id;
  const between = (id: string) => stands?.is === 'between' && stands.lower === id;
  const half = (id: string) =>
    stands?.is === 'between' && (stands.lower === id ? 'right' : stands.upper === id ? 'left' : null);
  const tabbed = levels.findIndex((l) => on(l.id) || between(l.id));
  return (
    <div
      role="radiogroup"
      aria-label={criterion.name}
      aria-readonly={readOnly}
      className={`mt-1 flex items-stretch gap-0.5 ${p.numbers ? '' : 'flex-wrap'}`}
    >
      {levels.map((level, i) => {
        const name = [levelSign(level, i, p.numbers), level.name]
          .filter((t, n, all) => t && all.indexOf(t) === n)
          .join(', ');
        const side = half(level.id);
        return (
          <span key={level.id} className="contents">
            <button
              type="button"
              role="radio"
              id={i === Math.max(0, tabbed) ? criterionRowId(criterion.id) : undefined}
              tabIndex={i === Math.max(0, tabbed) ? 0 : -1}
              aria-checked={on(level.id)}
              aria-label={name}
              disabled={readOnly}
              {...tip(level.descriptor || undefined)}
              className={`min-h-8 rounded px-0.5 font-bold tabular ${p.numbers ? 'min-w-0 flex-1 truncate text-[13px]' : 'w-min grow text-[11px] leading-[1.1]'} ${on(level.id) ? 'bg-action text-white' : 'bg-margin text-text enabled:hover:bg-action-wash'} ${side === 'right' ? 'bg-[linear-gradient(to_right,transparent_50%,var(--color-action)_50%)]' : ''} ${side === 'left' ? 'bg-[linear-gradient(to_right,var(--color-action)_50%,transparent_50%)]' : ''}`}
              onClick={() => moves.stand(criterion, on(level.id) ? null : { is: 'level', level: level.id })}
            >
              <span className={side ? 'rounded bg-raised px-1' : ''}>{levelSign(level, i, p.numbers)}</span>
            </button>
            {i < levels.length - 1 && (
              <button
                type="button"
                role="radio"
                tabIndex={-1}
                aria-checked={between(level.id)}
                aria-label={`between ${levelSign(level, i, p.numbers)} and ${levelSign(levels[i + 1]!, i + 1, p.numbers)}`}
                disabled={readOnly}
                className={`${p.numbers ? 'w-4' : 'w-3'} shrink-0 rounded text-[10px] ${between(level.id) ? 'bg-action text-white' : 'text-soft enabled:hover:bg-action-wash'}`}
                onClick={() =>
                  moves.stand(criterion, between(level.id) ? null : standsAtPlace(criterion, i, true))
                }
              >
                ½
              </button>
            )}
          </span>
        );
      })}
      <button
        type="button"
        role="radio"
        tabIndex={-1}
        aria-checked={stands?.is === 'not-shown'}
        aria-label="not shown"
        disabled={readOnly}
        {...tip('Not shown: there is nothing to see it by. That is not the lowest level.')}
        className={`ml-0.5 ${p.numbers ? 'w-11' : 'w-9'} shrink-0 rounded text-[11px] leading-[1.05] ${stands?.is === 'not-shown' ? 'bg-action text-white' : 'text-soft enabled:hover:bg-action-wash'}`}
        onClick={() => moves.stand(criterion, stands?.is === 'not-shown' ? null : { is: 'not-shown' })}
      >
        not shown
      </button>
    </div>
  );
}

/** A word on the criterion: shown where there is one, written when one asks. */
function CriterionWords({ p, writes, onWrites }: { p: Props; writes: boolean; onWrites(on: boolean): void }) {
  const { criterion, score, moves, readOnly } = p;
  const words = score?.words ?? '';
  if (writes)
    return (
      <CriterionField
        label={`Comment on ${criterion.name}`}
        words={words}
        onWords={(said) => moves.say(criterion, said)}
        onLeave={(back) => {
          onWrites(false);
          if (back)
            requestAnimationFrame(() => document.getElementById(criterionRowId(criterion.id))?.focus());
        }}
      />
    );
  if (words && readOnly)
    return (
      <div className="mt-0.5 text-[13px] italic">
        <WordsShow words={words} />
      </div>
    );
  if (words)
    return (
      <button
        type="button"
        className="mt-0.5 block text-left text-[13px] italic"
        onClick={() => onWrites(true)}
      >
        <WordsShow words={words} />
      </button>
    );
  if (readOnly) return null;
  return (
    <button
      type="button"
      className="text-[12px] text-soft opacity-60 group-focus-within:opacity-100 group-hover:opacity-100 hover:text-action"
      onClick={() => onWrites(true)}
    >
      Comment <span className="key">↵</span>
    </button>
  );
}

/** The words while they are written; phrases of the bank stand below. */
function CriterionField(p: {
  readonly label: string;
  readonly words: string;
  onWords(words: string): void;
  /** `back`: by a key, so the keys of the levels go on. */
  onLeave(back: boolean): void;
}) {
  const field = useGrowingField();
  return (
    <WordsField
      field={field.ref}
      label={p.label}
      className="mt-1 block w-full resize-none rounded border border-line bg-paper px-1.5 py-1 text-[13px]"
      placeholder="Comment …"
      most={2000}
      value={p.words}
      onValue={p.onWords}
      onBlur={() => p.onLeave(false)}
      onKeyDown={(e) => {
        if (e.key === 'Escape' || (e.key === 'Enter' && !e.shiftKey && !e.ctrlKey)) {
          e.preventDefault();
          e.stopPropagation();
          p.onLeave(true);
        }
      }}
    />
  );
}
