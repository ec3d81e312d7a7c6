/** What a phrase is called while it is dragged onto the page. */
export const PHRASE_DRAG = 'application/x-jotmark-phrase';
