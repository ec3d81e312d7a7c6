import { useEffect, useRef, useState } from 'react';

export interface Figure {
  /** Traces as Plotly has them. */
  readonly data: readonly object[];
  readonly layout: object;
  /** The same as lines of a table, the first is its head. */
  readonly table: readonly (readonly string[])[];
  /** What the whole of it says. */
  readonly says: string;
}

const INK = { text: '#24262a', soft: '#5c5f66', line: '#d3cec2' };

/** A chart, loaded when it is first wanted, and the same as a table. A point that is pressed is told by its place in its trace, and which trace that is; a line of the table stands for all traces. */
export function Chart({
  figure,
  label,
  onPoint,
}: {
  figure: Figure;
  label: string;
  onPoint?(at: number, trace: number | null): void;
}) {
  const root = useRef<HTMLDivElement>(null);
  const [asTable, setAsTable] = useState(false);
  const [missing, setMissing] = useState(false);
  const pressed = useRef(onPoint);
  pressed.current = onPoint;
  useEffect(() => {
    const el = root.current;
    if (asTable || !el) return;
    let gone = false;
    import('plotly.js-basic-dist-min').then(
      async (plotly) => {
        if (gone) return;
        const layout = {
          font: { family: 'Atkinson Hyperlegible Next, system-ui, sans-serif', size: 13, color: INK.text },
          margin: { l: 44, r: 12, t: 8, b: 40 },
          paper_bgcolor: 'transparent',
          plot_bgcolor: 'transparent',
          showlegend: false,
          hovermode: 'closest',
          ...figure.layout,
        };
        const drawn = await plotly.react(el, figure.data, layout, {
          displayModeBar: false,
          responsive: true,
          staticPlot: false,
        });
        drawn.removeAllListeners('plotly_click');
        drawn.on('plotly_click', (e) => {
          const point = e.points[0];
          if (point) pressed.current?.(point.pointNumber, point.curveNumber);
        });
        el.dataset.drawn = 'yes';
      },
      () => !gone && setMissing(true),
    );
    return () => {
      gone = true;
    };
  }, [figure, asTable]);
  useEffect(() => {
    const el = root.current;
    return () => {
      if (el?.dataset.drawn) import('plotly.js-basic-dist-min').then((plotly) => plotly.purge(el));
    };
  }, []);
  return (
    <figure>
      <figcaption className="sr-only">{figure.says}</figcaption>
      {missing && (
        <p role="alert" className="text-caution">
          The chart could not be loaded: there is no network. The table has the same.
        </p>
      )}
      <div
        ref={root}
        role="img"
        aria-label={`${label}. ${figure.says}`}
        className={asTable ? 'hidden' : 'h-64 w-full'}
      />
      {(asTable || missing) && <AsTable rows={figure.table} label={label} {...(onPoint && { onPoint })} />}
      <button
        type="button"
        className="mt-1 text-sm text-action hover:underline"
        onClick={() => setAsTable(!asTable)}
      >
        {asTable ? 'As a chart' : 'As a table'}
      </button>
    </figure>
  );
}

function AsTable({
  rows,
  label,
  onPoint,
}: {
  rows: Figure['table'];
  label: string;
  onPoint?(at: number, trace: null): void;
}) {
  const [head, ...lines] = rows;
  return (
    <div className="max-h-64 overflow-auto">
      <table className="w-full border-collapse text-sm tabular" aria-label={label}>
        <thead>
          <tr className="border-b border-line-strong text-left text-soft">
            {head?.map((cell) => (
              <th key={cell} scope="col" className="py-1 pr-3 font-normal">
                {cell}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {lines.map((line, i) => (
            <tr key={i} className="border-b border-line">
              {line.map((cell, n) => (
                <td key={n} className="py-0.5 pr-3">
                  {n === 0 && onPoint ? (
                    <button
                      type="button"
                      className="text-left hover:text-action hover:underline"
                      onClick={() => onPoint(i, null)}
                    >
                      {cell}
                    </button>
                  ) : (
                    cell
                  )}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
