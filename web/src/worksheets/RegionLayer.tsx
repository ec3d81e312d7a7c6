import {
  type Box,
  boxToScreen,
  drawnBox,
  type FoundPlace,
  type Grip,
  type PageSize,
  pageSize,
  pullBox,
  type Question,
  type QuestionId,
  shiftBox,
  toPage,
} from '@jotmark/core';
import { type PointerEvent, useRef, useState } from 'react';
import { viewOf } from '../paper/PageSheet.tsx';
import type { ShownPage } from '../paper/page-list.ts';

interface Props {
  readonly page: ShownPage;
  readonly zoom: number;
  readonly questions: readonly Question[];
  readonly numbers: ReadonlyMap<QuestionId, string>;
  readonly chosen: readonly QuestionId[];
  /** Places that are offered and not taken yet. */
  readonly offered: readonly FoundPlace[];
  onChoose(ids: readonly QuestionId[]): void;
  onDraw(box: Box): void;
  /** Moves or pulls the chosen regions; `done` when the hand lets go. */
  onBoxes(boxes: ReadonlyMap<QuestionId, Box>, gesture: string): void;
  onTake(place: FoundPlace): void;
}

const GRIPS: readonly [Grip, string][] = [
  ['nw', 'left-0 top-0 cursor-nwse-resize'],
  ['n', 'left-1/2 top-0 cursor-ns-resize'],
  ['ne', 'left-full top-0 cursor-nesw-resize'],
  ['e', 'left-full top-1/2 cursor-ew-resize'],
  ['se', 'left-full top-full cursor-nwse-resize'],
  ['s', 'left-1/2 top-full cursor-ns-resize'],
  ['sw', 'left-0 top-full cursor-nesw-resize'],
  ['w', 'left-0 top-1/2 cursor-ew-resize'],
];

const KIND_WORDS: Readonly<Record<Question['answer']['kind'], string>> = {
  line: 'typed line',
  paragraph: 'paragraph',
  long: 'long text',
  number: 'number',
  choice: 'choice',
  drawing: 'drawing',
  none: 'no answer',
};

export { KIND_WORDS };

type Act =
  | {
      readonly kind: 'draw';
      readonly from: readonly [number, number];
      readonly to: readonly [number, number];
    }
  | {
      readonly kind: 'move' | Grip;
      readonly from: readonly [number, number];
      readonly boxes: ReadonlyMap<QuestionId, Box>;
      readonly gesture: string;
    };

/** Questions as regions on their page: drawn, picked, moved and pulled with pointer and keys, straight on the paper. */
export function RegionLayer(p: Props) {
  const { page, zoom } = p;
  const view = viewOf(page.frame, page.turn, zoom);
  const [width, height] = pageSize(page.frame);
  const size: PageSize = { width, height };
  const root = useRef<HTMLDivElement>(null);
  const [act, setAct] = useState<Act | null>(null);
  const at = (e: PointerEvent): readonly [number, number] => {
    const rect = root.current!.getBoundingClientRect();
    return toPage(view, [e.clientX - rect.left, e.clientY - rect.top]);
  };
  const style = (box: Box) => {
    const [l, t, r, b] = boxToScreen(view, box);
    return { left: l, top: t, width: r - l, height: b - t };
  };
  const begin = (e: PointerEvent, kind: 'move' | Grip, question: Question) => {
    e.stopPropagation();
    e.preventDefault();
    (e.currentTarget as HTMLElement).closest<HTMLElement>('[data-region]')?.focus({ preventScroll: true });
    let chosen = p.chosen;
    if (e.shiftKey)
      chosen = chosen.includes(question.id)
        ? chosen.filter((id) => id !== question.id)
        : [...chosen, question.id];
    else if (!chosen.includes(question.id)) chosen = [question.id];
    p.onChoose(chosen);
    root.current!.setPointerCapture(e.pointerId);
    const moved = kind === 'move' ? p.questions.filter((q) => chosen.includes(q.id)) : [question];
    setAct({
      kind,
      from: at(e),
      boxes: new Map(moved.map((q) => [q.id, q.box])),
      gesture: `hand:${e.timeStamp}`,
    });
  };
  const move = (e: PointerEvent) => {
    if (!act) return;
    const to = at(e);
    if (act.kind === 'draw') return setAct({ ...act, to });
    const dx = to[0] - act.from[0];
    const dy = to[1] - act.from[1];
    const { kind } = act;
    p.onBoxes(
      new Map(
        [...act.boxes].map(([id, box]) => [
          id,
          kind === 'move' ? shiftBox(box, dx, dy, size) : pullBox(box, kind, dx, dy, size),
        ]),
      ),
      act.gesture,
    );
  };
  const up = () => {
    if (act?.kind === 'draw') {
      const box = drawnBox(act.from, act.to, size);
      if (box) p.onDraw(box);
    }
    setAct(null);
  };
  const drawing = act?.kind === 'draw' ? drawnBox(act.from, act.to, size) : null;
  return (
    <div
      ref={root}
      className="absolute inset-0 cursor-crosshair touch-none"
      onPointerDown={(e) => {
        if (e.button !== 0) return;
        root.current!.setPointerCapture(e.pointerId);
        p.onChoose([]);
        setAct({ kind: 'draw', from: at(e), to: at(e) });
      }}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={() => setAct(null)}
    >
      {p.offered.map((place) => (
        <button
          key={place.box.join()}
          type="button"
          className="absolute rounded-[3px] border-2 border-dotted border-action/60 bg-action/5 hover:bg-action/15"
          style={style(place.box)}
          aria-label={`Place found: ${KIND_WORDS[place.answer.kind]}${place.label ? `, ${place.label}` : ''}. Accept it`}
          onPointerDown={(e) => e.stopPropagation()}
          onClick={() => p.onTake(place)}
        />
      ))}
      {p.questions.map((q) => {
        const chosen = p.chosen.includes(q.id);
        return (
          <div key={q.id} className="absolute" style={style(q.box)}>
            <button
              type="button"
              data-region={q.id}
              aria-pressed={chosen}
              aria-label={`Question ${p.numbers.get(q.id)}, ${KIND_WORDS[q.answer.kind]}`}
              className={`size-full cursor-move rounded-[3px] border-2 ${chosen ? 'border-action bg-action/15' : 'border-action/70 bg-action/5'} ${q.answer.kind === 'none' ? 'border-dashed' : ''}`}
              onPointerDown={(e) => e.button === 0 && begin(e, 'move', q)}
              onFocus={() => !p.chosen.includes(q.id) && !act && p.onChoose([q.id])}
            />
            <span className="pointer-events-none absolute -top-[1px] right-full mr-1 rounded bg-action px-1.5 text-[13px] leading-5 font-bold whitespace-nowrap text-white tabular">
              {p.numbers.get(q.id)}
            </span>
            {chosen &&
              p.chosen.length === 1 &&
              GRIPS.map(([grip, where]) => (
                <span
                  key={grip}
                  className={`absolute size-3.5 -translate-1/2 rounded-full border-2 border-action bg-paper ${where}`}
                  onPointerDown={(e) => e.button === 0 && begin(e, grip, q)}
                />
              ))}
          </div>
        );
      })}
      {drawing && (
        <span
          className="pointer-events-none absolute rounded-[3px] border-2 border-action bg-action/15"
          style={style(drawing)}
        />
      )}
    </div>
  );
}
