import {
  alignQuestions,
  type Box,
  duplicateQuestions,
  type Edge,
  type FoundPlace,
  findPlaces,
  freePlaces,
  type Grip,
  inPageOrder,
  NO_SHAPES,
  numberQuestions,
  pageSize,
  pullBox,
  type Question,
  type QuestionId,
  questionsAt,
  readPlace,
  settleLabels,
  shiftBox,
  type WorksheetShape,
} from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useRef, useState } from 'react';
import { call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { usePageInView, useZoom } from '../hand/useZoom.ts';
import { newId } from '../outbox/new-id.ts';
import { usePageList, usePageTexts } from '../paper/page-list.ts';
import { useMakerKeys } from './useMakerKeys.ts';
import { useQuestions } from './useQuestions.ts';

const newQuestionId = () => newId<QuestionId>();

/** The pages of a worksheet with the places that could take an answer. */
function useOffered(worksheet: WorksheetShape) {
  const documents = useMemo(() => [worksheet.document], [worksheet.document]);
  const { pages } = usePageList(documents);
  const texts = usePageTexts(pages);
  const shapes = useQuery({
    queryKey: keys.document(worksheet.document.id, 'shapes'),
    queryFn: () => call('documentShapes', { params: { documentId: worksheet.document.id } }),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const offered = useMemo(() => {
    if (!shapes.data) return [];
    return pages.flatMap((p, i) => {
      const text = texts[i];
      if (!text) return [];
      const [width, height] = pageSize(p.frame);
      return findPlaces(p.page, text, shapes.data[p.page] ?? NO_SHAPES, { width, height });
    });
  }, [pages, texts, shapes.data]);
  return { pages, texts, offered };
}

/** A worksheet while its questions are made: what is on its pages, what is chosen, and all that is done with it. */
export function useMaker(worksheet: WorksheetShape) {
  const { pages, texts, offered } = useOffered(worksheet);
  const editing = useQuestions(worksheet);
  const { questions, change } = editing;
  const [chosen, setChosen] = useState<readonly QuestionId[]>([]);
  const scroller = useRef<HTMLDivElement>(null);
  const ready = pages.length > 0;
  const { zoom, measured } = useZoom(scroller, pages, ready, 40);
  const pageNow = usePageInView(scroller, ready);
  const free = useMemo(() => freePlaces(offered, questions), [offered, questions]);
  const sizeOf = (page: number) => {
    const [width, height] = pages[page] ? pageSize(pages[page].frame) : [595, 842];
    return { width, height };
  };
  const takeAll = () => {
    if (free.length === 0) return;
    const made = settleLabels(questionsAt(free, newQuestionId));
    change((now) => [...now, ...made]);
    setChosen([]);
  };
  const add = (page: number, box: Box) => {
    const id = newQuestionId();
    const answer =
      box[3] - box[1] > 40 ? { kind: 'paragraph' as const, lines: null } : { kind: 'line' as const };
    const index = pages.findIndex((p) => p.page === page);
    // What is printed beside it, where nothing has that number yet.
    const read = readPlace(page, box, answer, texts[index] ?? { words: [], lines: [] });
    change((now) => {
      const taken = [...numberQuestions(now).values()].includes(read.label ?? '');
      const [made] = questionsAt([taken ? { ...read, label: null } : read], () => id);
      return [...now, made!];
    });
    setChosen([id]);
  };
  const remove = (ids: readonly QuestionId[]) => {
    change((now) => now.filter((q) => !ids.includes(q.id)));
    setChosen([]);
  };
  const boxes = (next: ReadonlyMap<QuestionId, Box>, merge: string) =>
    change((now) => now.map((q) => (next.has(q.id) ? { ...q, box: next.get(q.id)! } : q)), merge);
  const nudge = (dx: number, dy: number, grip: Grip | null) => {
    const moved = (q: Question) =>
      grip ? pullBox(q.box, grip, dx, dy, sizeOf(q.page)) : shiftBox(q.box, dx, dy, sizeOf(q.page));
    const picked = questions.filter((q) => chosen.includes(q.id));
    boxes(new Map(picked.map((q) => [q.id, moved(q)])), `nudge:${chosen.join()}:${grip ?? ''}`);
  };
  const duplicate = () => {
    const made = duplicateQuestions(questions, chosen, newQuestionId, sizeOf);
    change(() => made.questions);
    setChosen(made.made);
  };
  const newByKey = () => {
    const here = inPageOrder(questions.filter((q) => q.page === pageNow)).at(-1);
    const { width, height } = sizeOf(pageNow);
    const top = Math.min(height - 60, here ? here.box[3] + 20 : 80);
    add(pageNow, [60, top, Math.min(width - 60, 360), top + 28]);
  };
  useMakerKeys({
    takeAll,
    newByKey,
    undo: editing.undo,
    redo: editing.redo,
    remove: () => remove(chosen),
    duplicate: () => chosen.length > 0 && duplicate(),
    nudge: (dx, dy, grip) => chosen.length > 0 && nudge(dx, dy, grip),
    letGo: () => setChosen([]),
    all: () => setChosen(questions.filter((q) => q.page === pageNow).map((q) => q.id)),
  });
  return {
    worksheet,
    editing,
    questions,
    pages,
    scroller,
    ready,
    zoom,
    measured,
    numbers: useMemo(() => numberQuestions(questions), [questions]),
    onPage: useMemo(() => pages.map((p) => questions.filter((q) => q.page === p.page)), [pages, questions]),
    free,
    chosen,
    choose: setChosen,
    takeAll,
    take: (place: FoundPlace) => change((now) => [...now, ...questionsAt([place], newQuestionId)]),
    add,
    edit: (id: QuestionId, part: Partial<Question>, merge?: string) =>
      change((now) => now.map((q) => (q.id === id ? { ...q, ...part } : q)), merge ?? null),
    remove,
    boxes,
    align: (edge: Edge) => change((now) => alignQuestions(now, chosen, edge, sizeOf)),
  };
}

export type Maker = ReturnType<typeof useMaker>;
