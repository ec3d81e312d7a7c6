/** The longest that one talks at a time, in ms. */
export const MOST_VOICE_MS = 5 * 60_000;
/** The longest clip of a camera, in ms: a film of five minutes would be no word said in passing. */
export const MOST_CLIP_MS = 60_000;
/** And the most bytes that either has: a clip of a minute at two megabits a second. */
export const MOST_VOICE_BYTES = 16 * 1024 * 1024;
/** A recording travels in parts of so many bytes, so that a network that breaks ten times costs ten parts. */
export const VOICE_PART = 192 * 1024;
