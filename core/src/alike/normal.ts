/** "3,50 km", "3.5km" and "3.5 km" are one answer: case, spaces, number format and unit are no differences. */
export function normalAnswer(text: string, unit = ''): string {
  let out = text
    .normalize('NFKC')
    .toLowerCase()
    .replace(/[‐‑‒–—−]/g, '-')
    .replace(/[’‘`´]/g, "'")
    .replace(/[“”„«»]/g, '"')
    .replace(/\s+/g, ' ')
    .trim()
    .replace(/[.!;]+$/, '')
    .trim();
  out = out.replace(/(\d)[ '](?=\d{3}(?!\d))/g, '$1').replace(/(\d),(?=\d)/g, '$1.');
  out = out.replace(/(\d)\s+(?=[a-z°%€£$µ])/g, '$1');
  const own = unit.trim().toLowerCase().normalize('NFKC');
  if (own && out.endsWith(own) && /[\d.]$/.test(out.slice(0, -own.length).trimEnd()))
    out = out.slice(0, -own.length).trimEnd();
  return out.replace(/\d+(?:\.\d+)?/g, tidyNumber);
}

/** Without noughts that say nothing: "03.50" is "3.5". */
function tidyNumber(number: string): string {
  const [whole, part = ''] = number.split('.');
  const end = part.replace(/0+$/, '');
  return `${whole!.replace(/^0+(?=\d)/, '')}${end && `.${end}`}`;
}
