import { CircleCheck, CircleDashed, HardDrive, TriangleAlert } from 'lucide-react';
import { plural } from '../time/words.ts';
import type { SaveState } from './lane.ts';

/** Always in sight: saved, saving, or kept on this device only. */
export function SaveSign({ save, waiting }: { save: SaveState; waiting: number }) {
  const [Icon, text, tone] = {
    saved: [CircleCheck, 'Saved', 'text-moss'],
    saving: [CircleDashed, 'Saving …', 'text-soft'],
    kept: [HardDrive, `Kept on this device: ${plural(waiting, 'change', 'changes')}`, 'text-caution'],
    loose: [TriangleAlert, 'Not saved yet: leave this page open', 'text-caution'],
  }[save] as [typeof CircleCheck, string, string];
  return (
    <span
      role="status"
      className={`inline-flex items-center gap-1.5 text-sm ${save === 'saved' || save === 'saving' ? 'text-soft' : 'text-caution'}`}
    >
      <Icon size={16} aria-hidden="true" className={tone} />
      {text}
    </span>
  );
}
