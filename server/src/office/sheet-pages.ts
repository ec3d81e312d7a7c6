/** Pages of a spreadsheet, in cm: a narrow one upright, a wide one lying, a still wider one on a larger page, so that it need not be shrunk past reading. */
const PAGE = { narrow: 21, wide: 29.7, most: 118.9, margin: 2 } as const;
/** Sheets wider than their page are shrunk to it, to this at the least where the page can still grow. */
const SMALLEST_SCALE = 0.7;
const ROOT_2 = Math.SQRT2;
/** More rows than this are more pages than anybody marks. */
export const MOST_ROWS = 20_000;

/**
 * A spreadsheet in its flat XML form with each sheet as wide as its page, its name on top, and nothing that is fetched from elsewhere. `rows`: how many
 * rows of it are used.
 */
export function fitSheets(flat: string): { readonly text: string; readonly rows: number } {
  const { wide, rows } = measured(flat);
  const text = flat
    .replace(/<style:page-layout-properties\b[^>]*?(\/?)>/g, (tag, end: string) => {
      const kept = tag
        .slice('<style:page-layout-properties'.length, end ? -2 : -1)
        .replace(
          /\s(?:fo:page-(?:width|height)|fo:margin(?:-\w+)?|style:print-orientation|style:scale-to(?:-\w+)?)="[^"]*"/g,
          '',
        );
      return `<style:page-layout-properties${kept} ${pageFor(wide)}${end}>`;
    })
    // Without a name on top one does not know which sheet a page is of.
    .replace(
      /<style:header(?:\s[^>]*?)?(?:\/>|(?<!\/)>(?:(?!<\/style:header>)[\s\S])*<\/style:header>)/g,
      NAME_ON_TOP,
    )
    .replace(
      /<draw:image\b[^>]*xlink:href="[a-z]+:[^"]*"[^>]*?(\/?)>/gi,
      (_, end: string) => `<draw:image${end}>`,
    );
  return { text, rows };
}

const NAME_ON_TOP = '<style:header><text:p><text:sheet-name>?</text:sheet-name></text:p></style:header>';

function pageFor(wide: number): string {
  const needs = wide + 2 * PAGE.margin;
  const lies = needs > PAGE.narrow;
  const width = !lies ? PAGE.narrow : Math.min(PAGE.most, Math.max(PAGE.wide, needs * SMALLEST_SCALE));
  const height = lies ? width / ROOT_2 : width * ROOT_2;
  return `fo:page-width="${width.toFixed(2)}cm" fo:page-height="${height.toFixed(2)}cm" fo:margin="${PAGE.margin}cm" style:print-orientation="${lies ? 'landscape' : 'portrait'}" style:scale-to-X="1" style:scale-to-Y="0"`;
}

const CM: Readonly<Record<string, number>> = { cm: 1, mm: 0.1, in: 2.54, pt: 2.54 / 72 };
const length = (text: string): number => {
  const [, value, unit] = /^([\d.]+)(\w+)$/.exec(text) ?? [];
  return Number(value ?? 0) * (CM[unit ?? ''] ?? 0);
};
const attribute = (tag: string, name: string): string | null =>
  new RegExp(`\\s${name}="([^"]*)"`).exec(tag)?.[1] ?? null;
const times = (tag: string, name: string): number => Number(attribute(tag, name) ?? 1);

/** How wide the widest sheet is as far as it is used, in cm, and how many rows are. */
function measured(flat: string): { wide: number; rows: number } {
  const widths = new Map<string, number>();
  for (const [, name, wide] of flat.matchAll(
    /<style:style style:name="([^"]+)" style:family="table-column"[^>]*>\s*<style:table-column-properties[^>]*style:column-width="([^"]+)"/g,
  ))
    widths.set(name!, length(wide!));
  let wide = 0;
  let rows = 0;
  // What is embedded in a sheet (a chart with its own little table) is none of it.
  const sheets = flat
    .replace(/<draw:object\b[\s\S]*?<\/draw:object>/g, '')
    .split(/<table:table\b(?!-)/)
    .slice(1);
  for (const sheet of sheets) {
    const columns: number[] = [];
    let used = 0;
    let at = 0;
    let pending = 0;
    for (const [tag, kind] of sheet.matchAll(
      /<table:(table-column|table-row|table-cell|covered-table-cell)\b[^>]*>/g,
    )) {
      if (kind === 'table-column') {
        const one = widths.get(attribute(tag, 'table:style-name') ?? '') ?? 0;
        for (
          let n = Math.min(1024, times(tag, 'table:number-columns-repeated'));
          n > 0 && columns.length < 1024;
          n--
        )
          columns.push(one);
      } else if (kind === 'table-row') {
        at = 0;
        pending = times(tag, 'table:number-rows-repeated');
      } else {
        at += times(tag, 'table:number-columns-repeated');
        if (tag.endsWith('/>')) continue;
        used = Math.max(used, at);
        rows += pending;
        pending = 0;
      }
    }
    wide = Math.max(
      wide,
      columns.slice(0, used).reduce((sum, w) => sum + w, 0),
    );
  }
  return { wide, rows };
}
