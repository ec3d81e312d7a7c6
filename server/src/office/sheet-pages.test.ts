import { describe, expect, test } from 'vitest';
import { fitSheets } from './sheet-pages.ts';

/** A flat spreadsheet with these column widths, used as far as the last of `cells` rows says. */
const flat = (
  widths: readonly string[],
  rows: string,
  layout = '<style:page-layout-properties style:writing-mode="lr-tb"/>',
) =>
  `<office:automatic-styles>${widths
    .map(
      (w, i) =>
        `<style:style style:name="co${i}" style:family="table-column"><style:table-column-properties fo:break-before="auto" style:column-width="${w}"/></style:style>`,
    )
    .join('')}<style:page-layout style:name="pm1">${layout}</style:page-layout></office:automatic-styles>
  <style:master-page><style:header style:display="false"/><style:header-left style:display="false"/></style:master-page>
  <table:table table:name="One">${widths.map((_, i) => `<table:table-column table:style-name="co${i}"/>`).join('')}
  <table:table-column table:style-name="co0" table:number-columns-repeated="16000"/>${rows}</table:table>`;
const cell = '<table:table-cell office:value-type="string"><text:p>x</text:p></table:table-cell>';
const row = (cells: string, more = '') =>
  `<table:table-row${more}>${cells}<table:table-cell table:number-columns-repeated="16000"/></table:table-row>`;
const page = (text: string) => {
  const [, wide, high] = /fo:page-width="([\d.]+)cm" fo:page-height="([\d.]+)cm"/.exec(text)!;
  return [Number(wide), Number(high)];
};

describe('the pages of a spreadsheet', () => {
  test('a narrow one stands upright, whatever lies unused beside it', () => {
    const { text, rows } = fitSheets(flat(['2in', '2in'], row(cell + cell)));
    expect(page(text)).toEqual([21, 29.7]);
    expect(rows).toBe(1);
    expect(text).toContain('style:scale-to-X="1" style:scale-to-Y="0"/>');
  });

  test('a wide one lies; one that is wider still gets a larger page, to a limit', () => {
    const four = row(cell.repeat(4));
    expect(page(fitSheets(flat(Array(4).fill('5cm'), four)).text)).toEqual([29.7, 21]);
    // 60 cm and 4 cm of margins, at 0.7.
    expect(page(fitSheets(flat(Array(4).fill('15cm'), four)).text)).toEqual([44.8, 31.68]);
    expect(page(fitSheets(flat(Array(4).fill('500cm'), four)).text)[0]).toBe(118.9);
  });

  test('only columns that are used count, and rows that are repeated', () => {
    const { text, rows } = fitSheets(
      flat(['5cm', '500cm'], row(cell, ' table:number-rows-repeated="7"') + row('')),
    );
    expect(page(text)).toEqual([21, 29.7]);
    expect(rows).toBe(7);
  });

  test('a size and a scale of its own go, all else of the layout stays', () => {
    const own =
      '<style:page-layout-properties fo:page-width="10cm" style:scale-to="55%" style:scale-to-pages="1" fo:margin-top="1cm" style:writing-mode="rl-tb"><style:columns/></style:page-layout-properties>';
    const { text } = fitSheets(flat(['2cm'], row(cell), own));
    expect(text).toMatch(
      /<style:page-layout-properties style:writing-mode="rl-tb" fo:page-width="21.00cm"[^>]*><style:columns\/>/,
    );
    expect(text).not.toMatch(/55%|10cm|fo:margin-top/);
  });

  test('its name stands on top, the little table of a chart is none of its rows, and no picture is fetched from elsewhere', () => {
    const chart = `<draw:object><table:table table:name="local-table">${row(cell.repeat(9))}</table:table></draw:object>`;
    const picture = '<draw:image xlink:href="file:///etc/secret.png" xlink:type="simple"/>';
    const { text, rows } = fitSheets(flat(['2cm'], row(cell) + chart + picture));
    expect(text).toContain(
      '<style:header><text:p><text:sheet-name>?</text:sheet-name></text:p></style:header>',
    );
    expect(text).toContain('<style:header-left style:display="false"/>');
    expect(rows).toBe(1);
    expect(text).not.toContain('secret');
  });
});
