import { PDFArray, type PDFDict, PDFHexString, PDFName, PDFNumber, PDFString } from '@cantoo/pdf-lib';
import type { Box } from '@jotmark/core';

/** Entries of dictionaries as other programs write them: what is missing or of another type reads as nothing. */

export function textOf(dict: PDFDict, key: string): string {
  const value = dict.lookup(PDFName.of(key));
  return value instanceof PDFString || value instanceof PDFHexString ? value.decodeText() : '';
}

export function nameOf(dict: PDFDict, key: string): string {
  const value = dict.lookup(PDFName.of(key));
  return value instanceof PDFName ? value.decodeText() : '';
}

export function number(dict: PDFDict, key: string, otherwise: number): number {
  const value = dict.lookup(PDFName.of(key));
  return value instanceof PDFNumber && Number.isFinite(value.asNumber()) ? value.asNumber() : otherwise;
}

export function numbers(dict: PDFDict, key: string): number[] {
  const value = dict.lookup(PDFName.of(key));
  return value instanceof PDFArray ? asNumbers(value) : [];
}

export function asNumbers(array: PDFArray): number[] {
  const out: number[] = [];
  for (let i = 0; i < array.size(); i++) {
    const value = array.lookup(i);
    if (value instanceof PDFNumber && Number.isFinite(value.asNumber())) out.push(value.asNumber());
  }
  return out;
}

export function rectOf(dict: PDFDict): Box {
  const [a = 0, b = 0, c = 0, d = 0] = numbers(dict, 'Rect');
  return [Math.min(a, c), Math.min(b, d), Math.max(a, c), Math.max(b, d)];
}

/** The size in a default appearance such as "0 0 1 rg /Helv 12 Tf", in units of the page; 12 where it says none. */
export function fontSize(appearance: string): number {
  const size = Number(/([\d.]+)\s+Tf/.exec(appearance)?.[1]);
  return size >= 4 && size <= 96 ? size : 12;
}

/** The colour in a default appearance, as red, green and blue; none where it is given another way. */
export const fillOf = (appearance: string): number[] =>
  (/([\d.]+) ([\d.]+) ([\d.]+) rg/.exec(appearance)?.slice(1) ?? []).map(Number);

/** Milliseconds of a PDF date (ISO 32000-1, 7.9.4); 0 where it is none. */
export function dateOf(text: string): number {
  const m = /^D:(\d{4})(\d\d)?(\d\d)?(\d\d)?(\d\d)?(\d\d)?(?:([+-])(\d\d)'?(\d\d)?)?/.exec(text);
  if (!m) return 0;
  const [, y, mo = '01', d = '01', h = '00', mi = '00', s = '00', sign, oh = '00', om = '00'] = m;
  const utc = Date.UTC(Number(y), Number(mo) - 1, Number(d), Number(h), Number(mi), Number(s));
  const off = sign ? (Number(oh) * 60 + Number(om)) * 60_000 * (sign === '-' ? -1 : 1) : 0;
  return Math.max(0, utc - off) || 0;
}
