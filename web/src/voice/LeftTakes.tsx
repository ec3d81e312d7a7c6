import { useEffect } from 'react';
import { useHere } from '../frame/session.tsx';
import { toast } from '../frame/toast.ts';
import { mayHaveLeft } from './may-have-left.ts';
import { recorder } from './recorder-here.ts';

/** Recordings that a tab left when it was closed or died are taken up by whoever signs in as their teacher, wherever they are in the app. */
export function LeftTakes() {
  const { person } = useHere().session;
  useEffect(() => {
    if (person?.role !== 'teacher' || !mayHaveLeft()) return;
    const off = recorder.hear((news) => {
      if (news.of === 'kept' && news.recovered)
        toast.success('A recording that was cut off was kept. It stands where you made it.');
    });
    recorder.recover(person.id);
    return off;
  }, [person]);
  return null;
}
