import type { ClassHead } from '@jotmark/core';
import { useMutation } from '@tanstack/react-query';
import { addressOf, call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { useTell } from '../ask/stale.ts';
import { OpenAddress } from '../frame/OpenAddress.tsx';
import { toast } from '../frame/toast.ts';
import { ActLog } from './ActLog.tsx';

/** What one comes to a class for now and then: its dates in one's own calendar, and putting it out of the way at the end of a year. */
export function ClassEnd({ head }: { head: ClassHead }) {
  const tell = useTell();
  const archive = useMutation({
    mutationFn: (archived: boolean) =>
      call('archiveClass', { params: { classId: head.id }, body: { archived } }),
    onSuccess: (_, archived) => {
      tell('registerChanged', { classId: head.id });
      tell('assignmentMoved', {});
      toast(
        archived
          ? `${head.name} is archived. Its work is in nobody’s lists any more; all of it is kept.`
          : `${head.name} is back.`,
        { action: { label: 'Undo', onClick: () => archive.mutate(!archived) } },
      );
    },
    onError: (error) => void toast.error(sentenceOf(error)),
  });
  return (
    <div className="mt-8 space-y-4">
      <OpenAddress
        of={`calendar ${head.id}`}
        title="Due dates in my calendar"
        says="An address (iCalendar) that a calendar program follows. Whoever has it sees titles and dates, no names and no copies."
        ask={(open) => call('calendarAddress', { body: { classId: head.id, open } })}
        addressOf={(token) => `${location.origin}${addressOf('calendar', { token })}`}
      />
      <ActLog classId={head.id} />
      <section aria-label="End of the year" className="rounded-lg bg-raised p-4 shadow-sm">
        <h2 className="font-bold">End of the year</h2>
        <p className="text-sm text-soft">
          {head.archived
            ? 'This class is archived: its work is in no list, and its addresses for families open nothing.'
            : 'An archived class leaves the lists of its teachers and students; all of it is kept and can be brought back.'}
        </p>
        <button type="button" className="quiet mt-2" onClick={() => archive.mutate(!head.archived)}>
          {head.archived ? `Bring ${head.name} back` : `Archive ${head.name}`}
        </button>
      </section>
    </div>
  );
}
