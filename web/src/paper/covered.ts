import type { Box } from '@jotmark/core';
import { createContext } from 'react';

/** What is covered on which page, in page space, by "document/page". */
export type Covered = ReadonlyMap<string, readonly Box[]>;

export const NOTHING_COVERED: Covered = new Map();

/** Read by every page that is drawn below it, large or small. */
export const CoveredContext = createContext<Covered>(NOTHING_COVERED);
