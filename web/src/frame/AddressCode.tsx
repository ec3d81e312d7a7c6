import { useState } from 'react';
import { encode } from 'uqr';
import { DialogShell } from './DialogShell.tsx';

/** Room round a code, in its own dots: readers need it (ISO/IEC 18004). */
const QUIET = 4;

/** The dots of a code as one path, a unit each, with the room round it. */
export function codePath(text: string): { readonly path: string; readonly size: number } {
  const { data, size } = encode(text, { ecc: 'M', border: QUIET });
  const path = data
    .flatMap((line, y) => line.flatMap((on, x) => (on ? [`M${x} ${y}h1v1h-1z`] : [])))
    .join('');
  return { path, size };
}

/** An address as a code that a phone’s camera reads: on the board, or printed. */
export function AddressCode({ address }: { readonly address: string }) {
  const [open, setOpen] = useState(false);
  const { path, size } = codePath(address);
  return (
    <>
      <button type="button" className="quiet" onClick={() => setOpen(true)}>
        Show as a code
      </button>
      <DialogShell
        open={open}
        title="Open it with a phone’s camera"
        width="middle"
        onClose={() => setOpen(false)}
      >
        <svg
          data-print-alone
          role="img"
          aria-label={`Code of ${address}`}
          viewBox={`0 0 ${size} ${size}`}
          shapeRendering="crispEdges"
          className="mt-4 w-full max-w-md self-center"
        >
          <rect width={size} height={size} fill="#fff" />
          <path d={path} fill="#000" />
        </svg>
        <p className="mt-3 text-center text-sm break-all">{address}</p>
        <div className="mt-4 flex gap-3 print:hidden">
          <button type="button" className="act" onClick={() => window.print()}>
            Print the code
          </button>
          <button type="button" className="quiet" onClick={() => setOpen(false)}>
            Close
          </button>
        </div>
      </DialogShell>
    </>
  );
}
