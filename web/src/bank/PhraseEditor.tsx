import {
  FAVOURITE_KEYS,
  INK_NAMES,
  InkColour,
  isStudentColour,
  PHRASE_LIMIT,
  type Phrase,
  PhraseInput,
} from '@jotmark/core';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useId, useRef, useState } from 'react';
import { Controller } from 'react-hook-form';
import type * as z from 'zod';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { LineField, trimmed, useFields } from '../frame/fields.tsx';
import { toast } from '../frame/toast.ts';
import { When } from '../frame/When.tsx';
import { plural } from '../time/words.ts';
import { WordsField } from '../words/WordsField.tsx';
import { HandInk } from './HandInk.tsx';
import { SignedPoints } from './SignedPoints.tsx';
import type { Bank } from './useBank.ts';

type Form = ReturnType<typeof useFields<z.input<typeof PhraseInput>, PhraseInput>>;
const INKS = InkColour.options.filter((ink) => !isStudentColour(ink));

/** A phrase while it is changed: its words, its group, what it is about, what it earns, its ink and its key. */
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
  const ids = [useId()] as const;
  const { uses: used, usedAt, asked, ...before } = phrase;
  const form = useFields(PhraseInput, before);
  const field = useRef<HTMLTextAreaElement>(null);
  const [follow, setFollow] = useState(true);
  const uses = useQuery({
    queryKey: keys.phraseUses(phrase.id),
    queryFn: () => call('phraseUses', { params: { phraseId: phrase.id } }),
    enabled: used > 0,
  }).data;
  const open = (uses ?? []).filter((u) => !u.back).length;
  // What is written by hand stays as it is: its words are its name.
  const changed = !phrase.ink && form.watch('words').trim() !== phrase.words;
  const save = useMutation({
    mutationFn: async (next: PhraseInput) => {
      await bank.keepMany([next]);
      if (!changed || !follow || open === 0) return;
      const { changed: n, left } = await call('followPhrase', {
        params: { phraseId: phrase.id },
        body: { was: phrase.words, now: next.words },
      });
      toast.success(
        `${plural(n, 'comment says', 'comments say')} it anew.${left ? ` ${left} stay: handed back, or changed by hand.` : ''}`,
      );
    },
    onSuccess: onClose,
  });
  return (
    <form
      className="space-y-2 rounded-lg border-2 border-action bg-paper p-3"
      aria-label="Change the phrase"
      onSubmit={form.handleSubmit((next) => save.mutate(next))}
    >
      {phrase.ink && <HandInk ink={phrase.ink} most={90} />}
      <Controller
        control={form.control}
        name="words"
        render={({ field: f }) => (
          <WordsField
            field={field}
            label={phrase.ink ? 'Name' : 'Words'}
            className="field min-h-16"
            most={PHRASE_LIMIT}
            value={f.value}
            onValue={f.onChange}
          />
        )}
      />
      {form.formState.errors.words && (
        <p role="alert" className="text-sm text-caution">
          A phrase needs words. Delete it instead if you do not want it.
        </p>
      )}
      <div className="flex flex-wrap items-end gap-3">
        <LineField
          box="w-48"
          label="Group"
          list={ids[0]}
          maxLength={60}
          {...form.register('group', trimmed)}
        />
        <datalist id={ids[0]}>
          {groups.map((name) => (
            <option key={name} value={name} />
          ))}
        </datalist>
        <LineField
          box="w-40"
          label="What it is about"
          maxLength={40}
          {...form.register('focus', { setValueAs: (v: string | null) => v?.trim() || null })}
        />
        <Likeness form={form} bank={bank} id={phrase.id} />
      </div>
      {changed && open > 0 && (
        <label className="flex items-baseline gap-2">
          <input type="checkbox" checked={follow} onChange={(e) => setFollow(e.target.checked)} />
          <span>
            Change it also where it was used in {plural(open, 'copy', 'copies')} not handed back yet
          </span>
        </label>
      )}
      {uses && uses.length > 0 && <Uses uses={uses} />}
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
          Delete phrase
        </button>
      </div>
    </form>
  );
}

/** What a comment with this phrase is like: what it earns, its ink, and the key it is a favourite under. */
function Likeness({ form, bank, id }: { form: Form; bank: Bank; id: Phrase['id'] }) {
  const ids = [useId(), useId()] as const;
  return (
    <>
      <Controller
        control={form.control}
        name="points"
        render={({ field: f }) => (
          <label className="w-24 text-sm text-soft">
            Points
            <SignedPoints className="field" value={f.value} onChange={f.onChange} />
          </label>
        )}
      />
      <label htmlFor={ids[0]} className="text-sm text-soft">
        Ink
        <select
          id={ids[0]}
          className="field !w-32"
          {...form.register('colour', { setValueAs: (v: string | null) => v || null })}
        >
          <option value="">in hand</option>
          {INKS.map((ink) => (
            <option key={ink} value={ink}>
              {INK_NAMES[ink]}
            </option>
          ))}
        </select>
      </label>
      <label htmlFor={ids[1]} className="text-sm text-soft">
        Favourite
        <select
          id={ids[1]}
          className="field !w-28"
          {...form.register('key', { setValueAs: (v: string | null) => v || null })}
        >
          <option value="">no</option>
          {FAVOURITE_KEYS.map((key) => (
            <option key={key} value={key}>
              Alt {key}
              {bank.phrases.some((p) => p.key === key && p.id !== id) ? ' (taken)' : ''}
            </option>
          ))}
        </select>
      </label>
    </>
  );
}

function Uses({ uses }: { uses: readonly { copyId: string; title: string; student: string; at: number }[] }) {
  return (
    <details className="text-sm">
      <summary className="cursor-pointer text-soft">Used in {plural(uses.length, 'copy', 'copies')}</summary>
      <ul className="mt-1 max-h-40 overflow-y-auto">
        {uses.map((use) => (
          <li key={use.copyId}>
            <a href={`/desk/${use.copyId}`} className="text-action hover:underline">
              {use.student}, {use.title}
            </a>{' '}
            <span className="text-soft">
              <When at={use.at} />
            </span>
          </li>
        ))}
      </ul>
    </details>
  );
}
