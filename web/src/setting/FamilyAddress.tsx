import type { AssignmentSheet } from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { toast } from 'sonner';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';

/** The address to pass on to families, and the way to make it lead nowhere again. */
export function FamilyAddress({
  sheet,
  onChanged,
}: {
  sheet: AssignmentSheet;
  onChanged(sheet: AssignmentSheet): void;
}) {
  const change = useMutation({
    mutationFn: (open: boolean) =>
      call('familyAddress', { params: { assignmentId: sheet.id }, body: { open } }),
    onSuccess: onChanged,
    onError: (error) => void toast.error(sentenceOf(error)),
  });
  const address = sheet.familyToken && `${location.origin}/family/${sheet.familyToken}`;
  return (
    <section aria-label="For families">
      <h2 className="mb-1 font-bold">For families</h2>
      <p className="text-sm text-soft">
        A page with instructions, date and what there is to look at. No names; whoever has the address can
        read it.
      </p>
      {address ? (
        <>
          <input
            className="field mt-2 text-sm"
            readOnly
            aria-label="Address for families"
            value={address}
            onFocus={(e) => e.target.select()}
          />
          <div className="mt-2 flex gap-2">
            <button
              type="button"
              className="quiet"
              onClick={() =>
                navigator.clipboard
                  .writeText(address)
                  .then(() => toast.success('The address is copied.'))
                  .catch(() => toast('Select the address above and copy it.'))
              }
            >
              Copy
            </button>
            <button type="button" className="quiet" onClick={() => change.mutate(false)}>
              Revoke
            </button>
          </div>
        </>
      ) : (
        <button type="button" className="quiet mt-2" onClick={() => change.mutate(true)}>
          Make an address
        </button>
      )}
    </section>
  );
}
