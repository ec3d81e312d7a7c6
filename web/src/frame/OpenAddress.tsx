import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { AddressToPass } from './AddressToPass.tsx';
import { toast } from './toast.ts';

interface Props {
  /** What it opens: names it among what was asked of the server. */
  readonly of: string;
  readonly title: string;
  readonly says: string;
  /** Makes it, revokes it, or tells how it is (null). */
  ask(open: boolean | null): Promise<{ token: string | null }>;
  addressOf(token: string): string;
}

/** An address that opens something to whoever has it: made, copied, revoked. */
export function OpenAddress({ of, title, says, ask, addressOf }: Props) {
  const client = useQueryClient();
  const now = useQuery({ queryKey: keys.openAddress(of), queryFn: () => ask(null) });
  const change = useMutation({
    mutationFn: (open: boolean) => ask(open),
    onSuccess: (told) => client.setQueryData(keys.openAddress(of), told),
    onError: (error) => void toast.error(sentenceOf(error)),
  });
  const address = now.data?.token ? addressOf(now.data.token) : null;
  return (
    <section aria-label={title} className="rounded-lg bg-raised p-4 shadow-sm">
      <h2 className="font-bold">{title}</h2>
      <p className="text-sm text-soft">{says}</p>
      <AddressToPass
        label={`Address: ${title}`}
        address={address}
        busy={!now.data || change.isPending}
        onOpen={(open) => change.mutate(open)}
      />
    </section>
  );
}
