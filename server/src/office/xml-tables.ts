import type { GridShape } from '@jotmark/core';
import { XMLParser } from 'fast-xml-parser';

/** An element as the parser gives it with its order kept: one key, its name, with its children; its attributes beside it. */
type Node = Readonly<Record<string, unknown>>;

const parser = new XMLParser({
  preserveOrder: true,
  ignoreAttributes: false,
  attributeNamePrefix: '',
  trimValues: false,
  parseTagValue: false,
  processEntities: true,
});

const nameOf = (node: Node): string => Object.keys(node).find((k) => k !== ':@') ?? '';
const childrenOf = (node: Node): Node[] => {
  const inside = node[nameOf(node)];
  return Array.isArray(inside) ? (inside as Node[]) : [];
};
const attribute = (node: Node, name: string): string | undefined => {
  const all = node[':@'] as Record<string, string> | undefined;
  return all?.[name];
};
const count = (node: Node, name: string): number =>
  Math.max(1, Number.parseInt(attribute(node, name) ?? '1', 10) || 1);

/** Every element of that name, not looking into those that were found. */
function* all(nodes: readonly Node[], name: string): Generator<Node> {
  for (const node of nodes)
    if (nameOf(node) === name) yield node;
    else yield* all(childrenOf(node), name);
}

/** What is written in an element; its paragraphs on lines of their own. */
function textIn(nodes: readonly Node[], paragraph: string, breaks: Readonly<Record<string, string>>): string {
  const lines = [...all(nodes, paragraph)].map((p) => plain(childrenOf(p), breaks));
  return lines.join('\n').trim();
}
function plain(nodes: readonly Node[], breaks: Readonly<Record<string, string>>): string {
  let out = '';
  for (const node of nodes) {
    const name = nameOf(node);
    if (name === '#text') out += String(node['#text']);
    else if (breaks[name] !== undefined) out += breaks[name];
    else out += plain(childrenOf(node), breaks);
  }
  return out;
}

/** So often an empty line or cell is repeated at most: spreadsheets say "a million times nothing". */
const REPEATS = 500;
/** More than any table that is taken has; what lies beyond is not unfolded. */
const ENOUGH = 1000;

/** The tables of an OpenDocument spreadsheet or text. */
export function tablesInOdf(xml: string): GridShape[] {
  return [...all(parser.parse(xml) as Node[], 'table:table')].map((table) => {
    const cells: string[][] = [];
    const special: GridShape['special'] = [];
    for (const line of all(childrenOf(table), 'table:table-row')) {
      if (cells.length > ENOUGH) break;
      const own: string[] = [];
      for (const cell of childrenOf(line)) {
        const kind = nameOf(cell);
        if (kind !== 'table:table-cell' && kind !== 'table:covered-table-cell') continue;
        if (own.length > ENOUGH) break;
        const text = kind === 'table:table-cell' ? textIn(childrenOf(cell), 'text:p', ODF_BREAKS) : '';
        const at = { column: own.length, row: cells.length };
        if (count(cell, 'table:number-columns-spanned') > 1 || count(cell, 'table:number-rows-spanned') > 1)
          special.push({ ...at, is: 'merged' });
        if (attribute(cell, 'table:formula')) special.push({ ...at, is: 'formula' });
        const times = Math.min(REPEATS, count(cell, 'table:number-columns-repeated'));
        for (let i = 0; i < times; i++) own.push(text);
      }
      while (own.at(-1) === '') own.pop();
      const times = own.length ? Math.min(REPEATS, count(line, 'table:number-rows-repeated')) : 1;
      for (let i = 0; i < times; i++) cells.push(own);
    }
    while (cells.length && cells.at(-1)!.length === 0) cells.pop();
    return { name: attribute(table, 'table:name') ?? '', cells, special };
  });
}
const ODF_BREAKS = { 'text:line-break': '\n', 'text:tab': '\t', 'text:s': ' ', 'office:annotation': '' };

/** The tables of an Office Open XML text. */
export function tablesInDocx(xml: string): GridShape[] {
  return [...all(parser.parse(xml) as Node[], 'w:tbl')].map((table) => {
    const cells: string[][] = [];
    const special: GridShape['special'] = [];
    for (const line of all(childrenOf(table), 'w:tr')) {
      if (cells.length > ENOUGH) break;
      const own: string[] = [];
      for (const cell of all(childrenOf(line), 'w:tc')) {
        if (own.length > ENOUGH) break;
        const about = childrenOf(childrenOf(cell).find((n) => nameOf(n) === 'w:tcPr') ?? {});
        const span = about.find((n) => nameOf(n) === 'w:gridSpan');
        const down = about.find((n) => nameOf(n) === 'w:vMerge');
        const width = span ? count(span, 'w:val') : 1;
        const covered = down !== undefined && attribute(down, 'w:val') !== 'restart';
        if (width > 1 || (down && !covered))
          special.push({ column: own.length, row: cells.length, is: 'merged' });
        own.push(covered ? '' : textIn(childrenOf(cell), 'w:p', DOCX_BREAKS));
        for (let i = 1; i < Math.min(REPEATS, width); i++) own.push('');
      }
      cells.push(own);
    }
    return { name: '', cells, special };
  });
}
const DOCX_BREAKS = { 'w:br': '\n', 'w:tab': '\t', 'w:instrText': '' };
