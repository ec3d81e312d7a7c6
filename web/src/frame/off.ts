/** A button that cannot be pressed now, and why: the browser shows the reason to who points at it, and tells it to who hears the page. False: it can be. */
export const off = (why: string | false) => (why === false ? {} : ({ disabled: true, title: why } as const));
