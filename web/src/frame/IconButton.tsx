import type { LucideIcon } from 'lucide-react';
import { tip } from './tip.ts';

/** A button that is only a sign: its words are there for those who hover or hear. `large` for fingers. */
export function IconButton({
  label,
  icon: Icon,
  disabled = false,
  large = false,
  onClick,
}: {
  label: string;
  icon: LucideIcon;
  disabled?: boolean;
  large?: boolean;
  onClick(): void;
}) {
  return (
    <button
      type="button"
      aria-label={label}
      {...tip(label)}
      disabled={disabled}
      className={`grid place-items-center rounded hover:bg-raised disabled:opacity-35 ${large ? 'size-11 bg-raised' : 'size-8 pointer-coarse:size-11'}`}
      onClick={onClick}
    >
      <Icon size={18} aria-hidden="true" />
    </button>
  );
}
