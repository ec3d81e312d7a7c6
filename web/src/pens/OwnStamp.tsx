import { INK_HEX, type InkColour, type StampLook } from '@jotmark/core';
import { useRef, useState } from 'react';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { FileInput } from '../frame/FileInput.tsx';
import { StampPicture } from '../look/pen-mark.tsx';
import { smallPng } from './small-png.ts';

const SIDE = 132;
/** Thousandths of the square between two points of a drawn stamp: nearer ones add nothing. */
const APART = 12;
const MOST_STROKES = 40;
const MOST_NUMBERS = 600;

/** A stamp of the teacher's own: drawn here, or from a small picture. */
export function OwnStamp({
  look,
  colour,
  onChange,
}: {
  look: StampLook;
  colour: InkColour;
  onChange(look: StampLook): void;
}) {
  const [trouble, setTrouble] = useState<string | null>(null);
  const strokes = look.of === 'drawn' ? look.strokes : [];
  const files = useRef<HTMLInputElement>(null);
  const live = useRef<number[]>([]);
  const path = useRef<SVGPathElement>(null);
  const at = (e: React.PointerEvent<SVGSVGElement>): [number, number] => {
    const r = e.currentTarget.getBoundingClientRect();
    const to = (v: number) => Math.round(Math.min(1, Math.max(0, v)) * 1000);
    return [to((e.clientX - r.left) / r.width), to((e.clientY - r.top) / r.height)];
  };
  const take = (e: React.PointerEvent<SVGSVGElement>) => {
    const [x, y] = at(e);
    const n = live.current.length;
    if (n >= MOST_NUMBERS) return;
    if (n && Math.hypot(live.current[n - 2]! - x, live.current[n - 1]! - y) < APART) return;
    live.current.push(x, y);
    path.current?.setAttribute('d', pathOf(live.current));
  };
  const end = () => {
    const stroke = live.current;
    live.current = [];
    path.current?.setAttribute('d', '');
    if (stroke.length === 2) stroke.push(stroke[0]!, Math.min(1000, stroke[1]! + 1));
    if (stroke.length < 4) return;
    if (strokes.length >= MOST_STROKES) return setTrouble('A stamp has at most 40 strokes.');
    onChange({
      of: 'drawn',
      name: look.of === 'drawn' ? look.name : 'own stamp',
      strokes: [...strokes, stroke],
    });
  };
  return (
    <div className="mt-3 flex items-start gap-4">
      <div>
        <p className="mb-1 text-sm text-soft">or draw one here</p>
        <svg
          width={SIDE}
          height={SIDE}
          viewBox="0 0 1000 1000"
          role="img"
          aria-label="Draw a stamp"
          className={`touch-none rounded-lg border-2 bg-paper ${look.of === 'drawn' ? 'border-action' : 'border-dashed border-line-strong'}`}
          onPointerDown={(e) => {
            e.currentTarget.setPointerCapture(e.pointerId);
            live.current = [];
            take(e);
          }}
          onPointerMove={(e) => live.current.length > 0 && take(e)}
          onPointerUp={end}
          onPointerCancel={end}
        >
          {strokes.map((s) => (
            <path key={s.join()} d={pathOf(s)} {...line(colour)} />
          ))}
          <path ref={path} {...line(colour)} />
        </svg>
        {strokes.length > 0 && (
          <button
            type="button"
            className="mt-1 text-sm text-action hover:underline"
            onClick={() =>
              onChange(
                strokes.length > 1
                  ? { of: 'drawn', name: look.of === 'drawn' ? look.name : '', strokes: strokes.slice(0, -1) }
                  : { of: 'sign', sign: 'tick' },
              )
            }
          >
            Undo last stroke
          </button>
        )}
      </div>
      <div>
        <p className="mb-1 text-sm text-soft">or from a picture</p>
        {look.of === 'picture' && <StampPicture look={look} colour={colour} size={64} />}
        <button type="button" className="quiet !min-h-9 !py-1 text-sm" onClick={() => files.current?.click()}>
          Choose a picture …
        </button>
        <FileInput
          at={files}
          label="Picture of the stamp"
          accept="image/png,image/jpeg,image/webp"
          onFiles={async ([file]) => {
            if (!file) return;
            const png = await smallPng(file);
            if (!png)
              return setTrouble(`“${file.name}” cannot be read as a picture. The stamp stays as it was.`);
            try {
              const { picture } = await call('keepPicture', { body: { base64: png } });
              setTrouble(null);
              const name = file.name.replace(/\.\w+$/, '').slice(0, 40) || 'picture';
              onChange({ of: 'picture', name, picture });
            } catch (error) {
              setTrouble(`${sentenceOf(error)} The stamp stays as it was.`);
            }
          }}
        />
        {trouble && (
          <p role="alert" className="mt-1 max-w-52 text-sm text-caution">
            {trouble}
          </p>
        )}
      </div>
    </div>
  );
}

const line = (colour: InkColour) =>
  ({
    fill: 'none',
    stroke: INK_HEX[colour],
    strokeWidth: 110,
    strokeLinecap: 'round',
    strokeLinejoin: 'round',
  }) as const;

function pathOf(stroke: readonly number[]): string {
  let d = '';
  for (let i = 0; i < stroke.length; i += 2) d += `${i ? 'L' : 'M'}${stroke[i]} ${stroke[i + 1]}`;
  return d;
}
