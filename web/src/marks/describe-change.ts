import { type Change, formatPoints, type ScoreChange, type ScoreOf, whatIsScored } from '@jotmark/core';
import { describeMark } from './describe.ts';

/** What a score is of, in words; names of criteria and questions are not known here. */
export function describeScoreOf(of: ScoreOf): string {
  const what = whatIsScored(of);
  if ('question' in what) return 'points of a question';
  return what.round === 'midway' ? 'midway rubric' : 'rubric';
}

/** A score as it was given, in a few words. */
export function describeScore(value: ScoreChange['value'] | undefined): string {
  if (!value) return 'no score';
  if (value.of === 'question') return formatPoints(value.points);
  if (!value.stands) return 'words only';
  if (value.stands.is === 'not-shown') return 'not shown';
  return value.stands.is === 'between' ? 'between two levels' : 'one level';
}

/** One step of a marking in a few words. */
export function describeChange(change: Change): string {
  switch (change.type) {
    case 'put':
      return `${change.was ? 'changed' : 'new'}: ${describeMark(change.mark)}`;
    case 'remove':
      return `deleted: ${change.was ? describeMark(change.was) : 'a mark'}`;
    case 'write':
      return describeWrite(change);
    case 'score':
      return `${describeScoreOf(change.of)}: ${describeScore(change.value)}`;
    case 'answer':
      return 'an answer';
    case 'text':
      return 'a long text';
  }
}

function describeWrite(change: Extract<Change, { type: 'write' }>): string {
  switch (change.field) {
    case 'grade':
      return `grade ${change.value === null ? 'deleted' : formatPoints(change.value)}`;
    case 'closing':
      return 'closing words';
    case 'midway':
      return 'midway words';
    case 'voice':
      return 'voice note about the whole';
    case 'lifted':
      return change.value ? 'lateness lifted' : 'lateness counts';
    case 'second':
      return 'a second opinion';
    case 'became':
      return 'what became of an earlier note';
    case 'own':
      return 'grades of single members';
    case 'done':
      return change.value ? 'marked' : 'not marked yet';
  }
}
