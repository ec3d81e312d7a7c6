/** In this order: most browsers also carry the names of others. */
const BROWSERS: readonly (readonly [RegExp, string])[] = [
  [/\bEdgA?\//, 'Edge'],
  [/\bOPR\//, 'Opera'],
  [/\bFirefox\/|\bFxiOS\//, 'Firefox'],
  [/\bChrom(e|ium)\/|\bCriOS\//, 'Chrome or Chromium'],
  [/\bSafari\//, 'Safari'],
];
const SYSTEMS: readonly (readonly [RegExp, string])[] = [
  [/\biPad\b/, 'an iPad'],
  [/\biPhone\b/, 'an iPhone'],
  [/\bAndroid\b/, 'Android'],
  [/\bCrOS\b/, 'a Chromebook'],
  [/\bWindows\b/, 'Windows'],
  [/\bMac OS X\b/, 'a Mac'],
  [/\bLinux\b/, 'Linux'],
];

/** What a browser says of itself (its User-Agent) in words for people: "Firefox on Windows"; empty where it tells nothing that is known. */
export function deviceWords(userAgent: string): string {
  const find = (list: typeof BROWSERS) => list.find(([says]) => says.test(userAgent))?.[1];
  const [browser, system] = [find(BROWSERS), find(SYSTEMS)];
  if (browser && system) return `${browser} on ${system}`;
  return browser ?? (system ? `A browser on ${system}` : '');
}
