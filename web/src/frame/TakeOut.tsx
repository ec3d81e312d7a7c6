import type { JobId, Ordered, OutOrder, SheetKind } from '@jotmark/core';
import { Download } from 'lucide-react';
import { useRef, useState } from 'react';
import { CallFailed, call } from '../api/call.ts';
import { type HowFar, saveOrdered } from '../api/order.ts';
import { sentenceOf } from '../api/sentences.ts';
import { Menu } from './menu.tsx';
import { toast } from './toast.ts';

/** A file that is being made, how far it is, and how it is stopped. */
export function useTakeOut() {
  const [making, setMaking] = useState<(HowFar & { name: string }) | null>(null);
  const job = useRef<JobId | null>(null);
  const fetchIt = async (name: string, order: () => Promise<Ordered>) => {
    setMaking({ name, ahead: null, done: 0, total: 0 });
    try {
      const ordered = await order();
      job.current = ordered.jobId;
      await saveOrdered(ordered, (far) => setMaking({ ...far, name }));
    } catch (error) {
      if (error instanceof CallFailed && error.code === 'stopped') toast(sentenceOf(error));
      else toast.error(sentenceOf(error));
    } finally {
      setMaking(null);
      job.current = null;
    }
  };
  return {
    making,
    order: (name: string, order: OutOrder) => fetchIt(name, () => call('takeOut', { body: { order } })),
    mine: () => fetchIt('all my work', () => call('takeOutMine', {})),
    stop: async () => {
      if (!job.current) return;
      try {
        await call('jobStop', { params: { jobId: job.current } });
      } catch (error) {
        toast.error(sentenceOf(error));
      }
    },
  };
}

/** How far a file is, with a button that stops it. */
export function Making({ out }: { out: ReturnType<typeof useTakeOut> }) {
  const { making } = out;
  if (!making) return null;
  return (
    <span role="status" className="flex items-center gap-2 text-sm">
      Making {making.name}
      {making.ahead
        ? `, ${making.ahead} before it`
        : making.total > 1
          ? `: ${making.done} of ${making.total}`
          : ' …'}
      <button type="button" className="text-action underline" onClick={out.stop}>
        Stop
      </button>
    </span>
  );
}

/** Spreadsheets by what people call them. */
export const SHEETS: readonly (readonly [SheetKind, string])[] = [
  ['xlsx', 'Excel (XLSX)'],
  ['ods', 'OpenDocument (ODS)'],
  ['csv', 'CSV'],
];

export interface Way {
  readonly label: string;
  readonly order: OutOrder;
}

/** The ways in which what one looks at can be saved as a file. */
export function TakeOut({ ways, label = 'Save as …' }: { ways: readonly Way[]; label?: string }) {
  const out = useTakeOut();
  if (out.making) return <Making out={out} />;
  return (
    <Menu
      label={label}
      className="quiet flex items-center gap-1.5"
      to="bottom end"
      wide="w-72"
      entries={ways.map(({ label: way, order }) => ({
        key: way,
        words: way,
        onClick: () => void out.order(way, order),
      }))}
    >
      <Download size={15} aria-hidden="true" />
      {label}
    </Menu>
  );
}
