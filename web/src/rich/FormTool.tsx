import type { LucideIcon } from 'lucide-react';
import { tip } from '../frame/tip.ts';

/** One button above a text that has a form. */
export function FormTool({
  label,
  icon: Icon,
  on,
  onClick,
}: {
  label: string;
  icon: LucideIcon;
  on: boolean;
  onClick(): void;
}) {
  return (
    <button
      type="button"
      aria-label={label}
      {...tip(label)}
      aria-pressed={on}
      className={`grid size-8 place-items-center rounded pointer-coarse:size-11 ${on ? 'bg-action-wash text-action' : 'text-soft hover:bg-margin'}`}
      onClick={onClick}
    >
      <Icon size={17} aria-hidden="true" />
    </button>
  );
}
