import type { FocusSign, InkColour, Place } from '@jotmark/core';
import { INK_HEX, SIGN_OF } from '@jotmark/core';

/** The house's sign: a sheet with a stroke of the teacher's pen. */
export function Emblem() {
  return (
    <svg width="26" height="26" viewBox="0 0 32 32" aria-hidden="true">
      <path d="M6 3h14l6 6v20H6z" fill="#fffefb" stroke="#24262a" strokeWidth="2" strokeLinejoin="round" />
      <path
        d="M10 19c2-5 4-5 5-1s3 3 4-1 2-2 3 0"
        fill="none"
        stroke={INK_HEX.garnet}
        strokeWidth="2.6"
        strokeLinecap="round"
      />
    </svg>
  );
}

export const PLACE_WORDS: Readonly<Record<Place, string>> = {
  'with-student': 'with student',
  in: 'in',
  'being-marked': 'being marked',
  marked: 'marked',
  'handed-back': 'handed back',
  'in-again': 'in again',
};

const SHEET = 'M4 2h6l3 3v9H4z';

/** One sheet drawn six ways: dashed, over a tray, with writing, filled with a tick, leaving, doubled. Told by shape, not by colour. */
export function PlaceGlyph({ place, size = 17 }: { place: Place; size?: number }) {
  const line = {
    fill: 'none',
    stroke: 'currentColor',
    strokeWidth: 1.4,
    strokeLinejoin: 'round',
    strokeLinecap: 'round',
  } as const;
  return (
    <svg width={size} height={size} viewBox="0 0 17 17" aria-hidden="true" className="shrink-0">
      {place === 'with-student' && <path d={SHEET} {...line} strokeDasharray="2 1.8" />}
      {place === 'in' && (
        <>
          <path d="M5 1h5l2.6 2.6V11H5z" {...line} />
          <path d="M1.5 10v5h14v-5" {...line} />
        </>
      )}
      {place === 'being-marked' && (
        <>
          <path d={SHEET} {...line} />
          <path d="M6 9.5c1-2 1.6-2 2.2-.4s1.2 1.2 1.8-.3M6 12h4" {...line} strokeWidth={1.2} />
        </>
      )}
      {place === 'marked' && (
        <>
          <path
            d={SHEET}
            fill="currentColor"
            stroke="currentColor"
            strokeWidth={1.4}
            strokeLinejoin="round"
          />
          <path
            d="M6 9l1.8 2L11 6.8"
            fill="none"
            stroke="var(--color-raised)"
            strokeWidth={1.6}
            strokeLinecap="round"
            strokeLinejoin="round"
          />
        </>
      )}
      {place === 'handed-back' && (
        <>
          <path d="M2 2h5l2.6 2.6V14H2z" {...line} />
          <path d="M7 9h8.4M12.6 6.4 15.4 9l-2.8 2.6" {...line} />
        </>
      )}
      {place === 'in-again' && (
        <>
          <path d="M6 1h5l3 3v9H6z" {...line} />
          <path d="M3.4 4v12H11" {...line} />
        </>
      )}
    </svg>
  );
}

const SIGNS: Readonly<Record<FocusSign, string>> = {
  disc: 'M6 1.4a4.6 4.6 0 1 1 0 9.2 4.6 4.6 0 0 1 0-9.2z',
  triangle: 'M6 1 11.2 10.4H.8z',
  square: 'M1.6 1.6h8.8v8.8H1.6z',
  star: 'M6 .6l1.6 3.5 3.9.4-2.9 2.6.9 3.8L6 8.9l-3.5 2 .9-3.8L.5 4.5l3.9-.4z',
  diamond: 'M6 .6 11.4 6 6 11.4.6 6z',
};

/** What a mark is about, told by a shape as well as by its ink. */
export function FocusSignGlyph({
  colour,
  sign,
  size = 12,
}: {
  colour: InkColour;
  /** Its own; without one, that of its colour. */
  sign?: FocusSign | undefined;
  size?: number;
}) {
  return (
    <svg width={size} height={size} viewBox="0 0 12 12" aria-hidden="true" className="shrink-0">
      <path d={SIGNS[sign ?? SIGN_OF[colour]]} fill={INK_HEX[colour]} />
    </svg>
  );
}
