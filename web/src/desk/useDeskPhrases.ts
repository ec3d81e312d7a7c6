import {
  type Desk,
  type Focus,
  fillPhrase,
  inkBox,
  inkOf,
  leadPoint,
  type MarginMark,
  type Mark,
  type MarkId,
  type MarkingPen,
  marksOfInk,
  type NoteMark,
  numberQuestions,
  openBlank,
  type Phrase,
  type PhraseId,
  plainPhrase,
  questionAt,
  withSignOf,
} from '@jotmark/core';
import { type ComponentType, createElement, useEffect, useMemo, useState } from 'react';
import { PhraseGhosts, type PhraseSite, quoted } from '../bank/PhraseGhosts.tsx';
import { type Bank, useBank } from '../bank/useBank.ts';
import { toast } from '../frame/toast.ts';
import { useStable } from '../frame/useStable.ts';
import { newId } from '../outbox/new-id.ts';
import type { GhostsProps } from '../words/ghosts.ts';
import type { DeskHand } from './useDeskHand.ts';
import type { DeskNotes } from './useDeskNotes.ts';

interface Options {
  readonly desk: Desk;
  readonly focuses: readonly Focus[];
  /** Of the note pen that is in hand, if it is one. */
  readonly pen: MarkingPen | null;
  /** Puts a note there that is finished, or whose blank is to be filled. */
  put(note: NoteMark, edit: boolean): void;
  /** Puts strokes where a note stands that was begun, or would have been. */
  putInk(note: MarginMark, strokes: readonly Mark[]): void;
  /** The note with what belongs to a phrase beside its words. */
  onLike(note: MarginMark, like: (note: NoteMark) => NoteMark): void;
}

/** How far a remark stands from the words it is about, in points. */
const INK_AWAY = 8;

/** A note as its phrase has it: its focus with the colour and sign of that, its points where work is graded, its own ink before that of its focus. */
const likePhrase = (phrase: Phrase, focuses: readonly Focus[], graded: boolean) => {
  const focus = focuses.find((f) => f.name === phrase.focus);
  return ({ sign: _, ...note }: NoteMark): NoteMark =>
    withSignOf(
      {
        ...note,
        focus: phrase.focus ?? note.focus,
        colour: phrase.colour ?? focus?.colour ?? note.colour,
        ...(graded && phrase.points !== null && { points: phrase.points }),
      },
      focuses,
    );
};

/** Phrases at this desk: what stands below words, what a key or a tap on the bank puts onto the page. */
export function useDeskPhrases({ desk, focuses, pen, put, putInk, onLike }: Options) {
  const bank: Bank = useBank();
  const [armed, setArmed] = useState<Phrase | null>(null);
  const numbers = useMemo(
    () => new Map(desk.asked.flatMap((a) => [...numberQuestions(a.questions)])),
    [desk.asked],
  );
  const graded = desk.assignment.most !== null;
  const does = useStable({
    questionOf: (note: MarginMark) => {
      const asked = desk.asked.find((a) => a.document === note.document);
      const question = asked && questionAt(asked.questions, note.page, leadPoint(note));
      return question ? { id: question.id, number: numbers.get(question.id) ?? '' } : null;
    },
    onTaken: (note: MarginMark, phrase: Phrase) => {
      if (phrase.focus || phrase.colour || phrase.points !== null)
        onLike(note, likePhrase(phrase, focuses, graded));
    },
    /** Puts a remark in the teacher's hand beside what the note is about. */
    onInk: (note: MarginMark, phrase: Phrase) => {
      const { ink } = phrase;
      if (!ink) return;
      const [x, y] = leadPoint(note);
      const [, top, , bottom] = inkBox(ink);
      const { v, document, page, focus } = note;
      const strokes = marksOfInk(ink, [x + INK_AWAY, y - (bottom - top) / 2], () => ({
        v,
        document,
        page,
        focus: phrase.focus ?? focus,
        id: newId<MarkId>(),
        madeAt: Date.now(),
      }));
      putInk(note, strokes);
      const question = does.questionOf(note);
      bank.used(phrase.id, desk.handIn.id, { markId: strokes[0]!.id, questionId: question?.id ?? null });
    },
    /** Puts a phrase where this empty note stands. */
    putPhrase: (note: NoteMark, phrase: Phrase) => {
      if (phrase.ink) return does.onInk(note, phrase);
      const question = does.questionOf(note);
      const words = fillPhrase(phrase.words, {
        name: desk.student.given,
        words: quoted(note),
        question: question?.number ?? null,
      });
      put({ ...likePhrase(phrase, focuses, graded)(note), words }, openBlank(words) !== null);
      bank.used(phrase.id, desk.handIn.id, { markId: note.id, questionId: question?.id ?? null });
    },
  });
  const { given } = desk.student;
  const handInId = desk.handIn.id;
  const Ghosts: ComponentType<GhostsProps> = useMemo(() => {
    const site: PhraseSite = {
      name: given,
      handInId,
      questionOf: does.questionOf,
      onTaken: does.onTaken,
      onInk: does.onInk,
    };
    return (p: GhostsProps) => createElement(PhraseGhosts, { ...p, site });
  }, [given, handInId, does]);
  /** The pen that puts a phrase. */
  const penOf = (phrase: Phrase): MarkingPen => ({
    tool: 'note',
    name: 'phrase',
    colour:
      phrase.colour ??
      focuses.find((f) => f.name === phrase.focus)?.colour ??
      (pen?.tool === 'note' ? pen.colour : 'garnet'),
    focus: phrase.focus,
  });
  return {
    bank,
    Ghosts,
    armed,
    penOf,
    arm: (phrase: Phrase | null) =>
      setArmed((before) => (phrase && before?.id === phrase.id ? null : phrase)),
    does,
    /** Keeps what was written by hand, under a name by which it is found until it is given a better one. */
    keepInk: (marks: readonly Mark[]) => {
      const ink = inkOf(marks);
      if (!ink) return;
      const words = `Handwritten ${bank.phrases.filter((p) => p.ink).length + 1}`;
      bank
        .keep([plainPhrase(newId<PhraseId>(), words, { ink, focus: marks[0]!.focus })])
        .then(() => toast.success(`Kept in your comment bank as “${words}”. You can rename it there.`));
    },
    withKey: (key: string) => bank.phrases.find((p) => p.key === key) ?? null,
  };
}

export type DeskPhrases = ReturnType<typeof useDeskPhrases>;

/** A phrase that was tapped is put where the pen goes next; while places are added, the pen adds them. */
export function usePhraseInHand(hand: DeskHand, notes: DeskNotes, phrases: DeskPhrases): void {
  const { armed, penOf, does, arm } = phrases;
  const { lend } = hand;
  useEffect(() => lend(armed && penOf(armed)), [lend, armed]);
  hand.made.current = (mark) => {
    if (!armed || mark.kind !== 'note') return notes.does.make(mark);
    arm(null);
    does.putPhrase(mark, armed);
  };
}
