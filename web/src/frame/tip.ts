/**
 * What a sign or a shortened word says when one points at it or comes to it by keys; `Tips` shows it. For who hears the page, the words belong to
 * the name or the description of the element itself.
 */
export const tip = (words: string | undefined) => (words ? ({ 'data-tip': words } as const) : {});
