import type { AssignmentSheet } from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { AddressToPass } from '../frame/AddressToPass.tsx';
import { toast } from '../frame/toast.ts';

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
      <AddressToPass
        label="Address for families"
        address={address}
        busy={change.isPending}
        onOpen={(open) => change.mutate(open)}
      />
    </section>
  );
}
