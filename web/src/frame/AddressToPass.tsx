import { onDemand } from './on-demand.tsx';
import { toast } from './toast.ts';

/** Only where somebody asks for it. */
const AddressCode = onDemand(() => import('./AddressCode.tsx').then((m) => m.AddressCode));

/** An address to pass on: copied, shown as a code for phones, revoked; or made, where there is none. */
export function AddressToPass({
  label,
  address,
  busy = false,
  onOpen,
}: {
  readonly label: string;
  /** Null: there is none now. */
  readonly address: string | null;
  readonly busy?: boolean;
  /** Makes one (true), or makes it lead nowhere again. */
  onOpen(open: boolean): void;
}) {
  if (address === null)
    return (
      <button type="button" className="quiet mt-2" disabled={busy} onClick={() => onOpen(true)}>
        Make an address
      </button>
    );
  const copy = () =>
    navigator.clipboard
      .writeText(address)
      .then(() => toast.success('The address is copied.'))
      .catch(() => toast('Select the address and copy it.'));
  return (
    <div className="mt-2 flex flex-wrap items-center gap-2">
      <input
        className="field !w-auto min-w-64 flex-1 text-sm"
        readOnly
        aria-label={label}
        value={address}
        onFocus={(e) => e.target.select()}
      />
      <button type="button" className="quiet" onClick={copy}>
        Copy address
      </button>
      <AddressCode address={address} />
      <button type="button" className="quiet" onClick={() => onOpen(false)}>
        Revoke
      </button>
    </div>
  );
}
