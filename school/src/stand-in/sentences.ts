/** What the stand-in microphone says, a made-up teacher's sentences: a name, and what is heard. `scripts/speak.mjs` makes the sound of it. */
export const SENTENCES = {
  scale: [
    'Good, you wrote down the scale first.',
    'Now measure to the foot of the triangle, and then try once more.',
  ],
  lines: [
    'Look at the lines again.',
    'Where they come close together, the hill is steep.',
    'Here they are far apart, so the path is easy.',
  ],
  evidence: ['I like how you explain this.', 'Next time say which number on the map tells you so.'],
  closing: [
    'You read the hill well.',
    'Next time measure twice, and you have full marks.',
    'Come and show me your new line on Tuesday.',
  ],
  talk: [
    'One centimetre on this map is two hundred metres.',
    'You measured five and a half centimetres.',
    'So it is five and a half times two hundred.',
    'That makes eleven hundred metres.',
    'Write the unit behind it, and you are done.',
  ],
} as const satisfies Readonly<Record<string, readonly string[]>>;

export type SentenceName = keyof typeof SENTENCES;
export const SENTENCE_NAMES = Object.keys(SENTENCES) as SentenceName[];
