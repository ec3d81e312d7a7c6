/** So many phrases are kept at once; a longer list comes in several. */
export const PHRASES_AT_ONCE = 200;
