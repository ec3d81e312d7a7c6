import { type BookRule, ruleWords, weightOf } from '@jotmark/core';
import { TermsForm } from './TermsForm.tsx';

/** How the mark book adds up, in a sentence, and as what it can be. */
export function BookRuleForm({
  rule,
  categories,
  onChange,
}: {
  rule: BookRule;
  categories: readonly string[];
  onChange(rule: BookRule): void;
}) {
  const weigh = (category: string, weight: number) =>
    onChange({
      ...rule,
      weights: [...rule.weights.filter((w) => w.category !== category), { category, weight }],
    });
  return (
    <details className="min-w-0">
      <summary className="cursor-pointer text-sm text-soft">{ruleWords(rule, categories)}</summary>
      <fieldset className="mt-2 flex flex-wrap items-center gap-x-5 gap-y-2 rounded-lg bg-raised p-3 shadow-sm">
        <legend className="sr-only">How it adds up</legend>
        {categories.map((category) => (
          <label key={category} className="flex items-center gap-2">
            {category || 'other work'} counts
            <select
              className="min-h-9 rounded border border-line bg-paper px-1"
              value={weightOf(rule, category)}
              onChange={(e) => weigh(category, Number(e.target.value))}
            >
              {[0, 1, 2, 3, 4, 5, 10, 20, 25, 30, 40, 50, 60, 70, 75, 80, 90, 100].map((n) => (
                <option key={n}>{n}</option>
              ))}
            </select>
          </label>
        ))}
        <label className="flex items-center gap-2">
          Within a kind of work
          <select
            className="min-h-9 rounded border border-line bg-paper px-1"
            value={rule.within}
            onChange={(e) => onChange({ ...rule, within: e.target.value as BookRule['within'] })}
          >
            <option value="points">points are added up</option>
            <option value="each">each piece counts the same</option>
          </select>
        </label>
        <label className="flex items-center gap-2">
          Missing work
          <select
            className="min-h-9 rounded border border-line bg-paper px-1"
            value={rule.missing}
            onChange={(e) => onChange({ ...rule, missing: e.target.value as BookRule['missing'] })}
          >
            <option value="left-out">is left out</option>
            <option value="zero">counts 0</option>
          </select>
        </label>
        <TermsForm terms={rule.terms} onChange={(terms) => onChange({ ...rule, terms })} />
      </fieldset>
    </details>
  );
}
