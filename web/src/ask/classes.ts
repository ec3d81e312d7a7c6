import { useQuery } from '@tanstack/react-query';
import { call } from '../api/call.ts';
import { keys } from './keys.ts';

/** The classes one teaches. */
export const useClasses = () => useQuery({ queryKey: keys.classes, queryFn: () => call('classes') });
