import { PHRASE_LIMIT, type Phrase, PhraseInput } from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { useId } from 'react';
import { sentenceOf } from '../api/sentences.ts';
import { LineField, trimmed, useFields } from '../frame/fields.tsx';
import type { Bank } from './useBank.ts';

/** A phrase while it is changed: its words, its group, what it is about. */
export function PhraseEditor({
  phrase,
  groups,
  bank,
  onClose,
}: {
  phrase: Phrase;
  groups: readonly string[];
  bank: Bank;
  onClose(): void;
}) {
  const ids = [useId(), useId()] as const;
  const { id, words, group, focus } = phrase;
  const form = useFields(PhraseInput, { id, words, group, focus });
  const save = useMutation({
    mutationFn: (next: PhraseInput) => bank.keep([next]),
    onSuccess: onClose,
  });
  return (
    <form
      className="space-y-2 rounded-lg border-2 border-action bg-paper p-3"
      aria-label="Change the phrase"
      onSubmit={form.handleSubmit((next) => save.mutate(next))}
    >
      <label htmlFor={ids[0]} className="text-sm text-soft">
        Words
      </label>
      <textarea
        id={ids[0]}
        className="field min-h-16"
        maxLength={PHRASE_LIMIT}
        aria-invalid={form.formState.errors.words ? true : undefined}
        {...form.register('words', trimmed)}
      />
      {form.formState.errors.words && (
        <p role="alert" className="text-sm text-caution">
          A phrase needs words. Take it out instead if you want it gone.
        </p>
      )}
      <div className="flex flex-wrap gap-3">
        <LineField
          box="w-56"
          label="Group"
          list={ids[1]}
          maxLength={60}
          {...form.register('group', trimmed)}
        />
        <datalist id={ids[1]}>
          {groups.map((name) => (
            <option key={name} value={name} />
          ))}
        </datalist>
        <LineField
          box="w-56"
          label="What it is about"
          maxLength={40}
          {...form.register('focus', { setValueAs: (v: string | null) => v?.trim() || null })}
        />
      </div>
      {save.error && (
        <p role="alert" className="text-caution">
          {sentenceOf(save.error)}
        </p>
      )}
      <div className="flex flex-wrap gap-3">
        <button type="submit" className="act" disabled={save.isPending}>
          Save
        </button>
        <button type="button" className="quiet" onClick={onClose}>
          Cancel
        </button>
        <button
          type="button"
          className="quiet ml-auto"
          onClick={() => {
            onClose();
            bank.remove(phrase);
          }}
        >
          Take it out
        </button>
      </div>
    </form>
  );
}
