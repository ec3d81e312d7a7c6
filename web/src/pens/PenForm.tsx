import {
  formatPoints,
  INK_NAMES,
  InkColour,
  isMarkingPen,
  isStudentColour,
  type Pen,
  parsePoints,
  type StampLook,
  StampSign,
  stampName,
  type Tool,
} from '@jotmark/core';
import { useId, useState } from 'react';
import { FocusSignGlyph } from '../look/glyphs.tsx';
import { MarkItMakes, StampPicture } from '../look/pen-mark.tsx';
import { OwnStamp } from './OwnStamp.tsx';

/** What a pen can make, in the teacher's words. */
const MAKES: Readonly<Record<Exclude<Tool, 'hand' | 'lasso' | 'eraser'>, string>> = {
  ink: 'pen strokes',
  highlight: 'highlights',
  note: 'notes in the margin',
  text: 'text on the page',
  stamp: 'stamps',
  line: 'lines',
  arrow: 'arrows',
  box: 'boxes',
  ring: 'rings',
  cut: 'cuts: words to leave out',
  add: 'additions: words that are missing',
  swap: 'swaps: other words instead',
};
type MarkingTool = keyof typeof MAKES;

/** Widths that a tool can have: least, most, step, and what it starts with. */
const WIDTHS: Partial<Record<Tool, readonly [number, number, number, number]>> = {
  ink: [0.4, 12, 0.2, 1.6],
  line: [0.4, 12, 0.2, 1.6],
  arrow: [0.4, 12, 0.2, 1.6],
  box: [0.4, 12, 0.2, 1.6],
  ring: [0.4, 12, 0.2, 1.6],
  highlight: [4, 40, 1, 11],
  text: [6, 48, 1, 13],
  stamp: [8, 120, 2, 20],
};
const COLOURS = InkColour.options.filter((c) => !isStudentColour(c));

/** The pen with another tool; what both tools know of stays. */
function withTool(pen: Pen, tool: MarkingTool): Pen {
  const inked = isMarkingPen(pen) ? pen : ({ colour: 'garnet', focus: null } as const);
  const base = { name: pen.name, colour: inked.colour, focus: inked.focus };
  const width = WIDTHS[tool]?.[3];
  switch (tool) {
    case 'note':
    case 'cut':
    case 'add':
    case 'swap':
      return { tool, ...base };
    case 'stamp':
      return { tool, ...base, width: width!, look: { of: 'sign', sign: 'tick' }, points: null };
    default:
      return { tool, ...base, width: width! };
  }
}

/** All there is to a pen. */
export function PenForm({ pen, onChange }: { pen: Pen; onChange(pen: Pen): void }) {
  const id = useId();
  if (!isMarkingPen(pen)) return null;
  const limits = WIDTHS[pen.tool];
  return (
    <div className="grid grid-cols-[7rem_1fr] items-center gap-x-4 gap-y-4">
      <span className="text-sm text-soft">What it makes</span>
      <span className="grid h-9 w-24 place-items-center rounded border border-line bg-paper">
        <MarkItMakes pen={pen} />
      </span>
      <label htmlFor={`${id}-name`}>Name</label>
      <input
        id={`${id}-name`}
        className="field !w-56"
        maxLength={18}
        value={pen.name}
        onChange={(e) => onChange({ ...pen, name: e.target.value })}
      />
      <label htmlFor={`${id}-tool`}>Makes</label>
      <select
        id={`${id}-tool`}
        className="field !w-72"
        value={pen.tool}
        onChange={(e) => onChange(withTool(pen, e.target.value as MarkingTool))}
      >
        {(Object.keys(MAKES) as MarkingTool[]).map((tool) => (
          <option key={tool} value={tool}>
            {MAKES[tool]}
          </option>
        ))}
      </select>
      <span id={`${id}-ink`}>Ink</span>
      <div role="radiogroup" aria-labelledby={`${id}-ink`} className="flex gap-2">
        {COLOURS.map((colour) => (
          <button
            key={colour}
            type="button"
            role="radio"
            aria-checked={pen.colour === colour}
            aria-label={INK_NAMES[colour]}
            className={`grid size-10 place-items-center rounded-lg border-2 bg-paper ${pen.colour === colour ? 'border-action' : 'border-line'}`}
            onClick={() => onChange({ ...pen, colour })}
          >
            <FocusSignGlyph colour={colour} size={18} />
          </button>
        ))}
      </div>
      {limits && 'width' in pen && (
        <>
          <label htmlFor={`${id}-width`}>
            {pen.tool === 'text' ? 'Letters' : pen.tool === 'stamp' ? 'Size' : 'Width'}
          </label>
          <span className="flex items-center gap-3">
            <input
              id={`${id}-width`}
              type="range"
              className="w-56 accent-action"
              min={limits[0]}
              max={limits[1]}
              step={limits[2]}
              value={pen.width}
              onChange={(e) => onChange({ ...pen, width: Number(e.target.value) })}
            />
            <span className="text-sm text-soft tabular">{pen.width} pt</span>
          </span>
        </>
      )}
      <label htmlFor={`${id}-focus`}>About</label>
      <input
        id={`${id}-focus`}
        className="field !w-56"
        list={`${id}-focuses`}
        maxLength={40}
        placeholder="no focus"
        value={pen.focus ?? ''}
        onChange={(e) => onChange({ ...pen, focus: e.target.value.trimStart() || null })}
      />
      <datalist id={`${id}-focuses`}>
        {['accuracy', 'wording', 'method', 'well put'].map((focus) => (
          <option key={focus} value={focus} />
        ))}
      </datalist>
      {pen.tool === 'stamp' && (
        <>
          <PointsOfStamp points={pen.points} onChange={(points) => onChange({ ...pen, points })} />
          <Looks look={pen.look} colour={pen.colour} onChange={(look) => onChange({ ...pen, look })} />
        </>
      )}
    </div>
  );
}

/** Points as they are typed; empty: none. */
function PointsOfStamp({
  points,
  onChange,
}: {
  points: number | null;
  onChange(points: number | null): void;
}) {
  const id = useId();
  const [text, setText] = useState(points === null ? '' : formatPoints(points));
  const parsed = parsePoints(text);
  const wrong = !parsed.ok && parsed.reason !== 'empty';
  return (
    <>
      <label htmlFor={id}>Points</label>
      <span className="flex items-center gap-3">
        <input
          id={id}
          className="field !w-20 text-right tabular"
          inputMode="decimal"
          maxLength={8}
          placeholder="none"
          aria-invalid={wrong}
          value={text}
          onChange={(e) => {
            setText(e.target.value);
            const next = parsePoints(e.target.value);
            if (next.ok) onChange(next.value);
            else if (next.reason === 'empty') onChange(null);
          }}
        />
        {wrong && (
          <span role="alert" className="text-sm text-caution">
            Write points like 1, 0.5 or ½.
          </span>
        )}
      </span>
    </>
  );
}

function Looks({
  look,
  colour,
  onChange,
}: {
  look: StampLook;
  colour: InkColour;
  onChange(look: StampLook): void;
}) {
  const same = (sign: StampSign) => look.of === 'sign' && look.sign === sign;
  return (
    <>
      <span className="self-start pt-2">Looks like</span>
      <div>
        <div className="flex flex-wrap gap-2">
          {StampSign.options.map((sign) => (
            <button
              key={sign}
              type="button"
              aria-pressed={same(sign)}
              aria-label={stampName({ of: 'sign', sign })}
              className={`grid size-10 place-items-center rounded-lg border-2 bg-paper ${same(sign) ? 'border-action' : 'border-line'}`}
              onClick={() => onChange({ of: 'sign', sign })}
            >
              <StampPicture look={{ of: 'sign', sign }} colour={colour} size={22} />
            </button>
          ))}
        </div>
        <OwnStamp look={look} colour={colour} onChange={onChange} />
      </div>
    </>
  );
}
