import { unshield } from '../table/shield.ts';
import { cellName, isNumberWord, readCell, readHead, readOwnLevel, readWeight } from './cells.ts';
import type { Criterion, Level } from './rubric.ts';

/** A table as it was read from a file or the clipboard; lines may be of different length. */
export interface Grid {
  readonly cells: readonly (readonly string[])[];
  /** What is special about a cell, which the text in it does not say. */
  readonly special?: readonly {
    readonly column: number;
    readonly row: number;
    readonly is: 'merged' | 'formula';
  }[];
}

export type DraftLevel = Omit<Level, 'id'>;
export type DraftCriterion = Omit<Criterion, 'id' | 'levels'> & { readonly levels: readonly DraftLevel[] };

/** What was found out about a table, and can be said otherwise. */
export interface Understood {
  readonly criteria: 'down' | 'across';
  readonly points: 'heads' | 'cells' | 'line' | 'none';
  /** Whether the table begins with the best level. */
  readonly bestFirst: boolean;
  readonly weights: boolean;
}

export interface GridTrouble {
  /** As a spreadsheet calls it: D3. */
  readonly cell: string;
  readonly what:
    | 'number-word'
    | 'no-points'
    | 'no-weight'
    | 'no-name'
    | 'too-long'
    | 'merged'
    | 'formula'
    | 'same-name'
    | 'left-out';
  /** What stands there, shortened. */
  readonly said: string;
}

export type ReadGrid =
  | {
      readonly ok: true;
      /** What stands alone above the table; empty: nothing. */
      readonly name: string;
      readonly criteria: readonly DraftCriterion[];
      readonly understood: Understood;
      readonly troubles: readonly GridTrouble[];
    }
  | { readonly ok: false; readonly reason: 'empty' | 'too-wide' | 'too-long' | 'no-table' };

const MOST_COLUMNS = 40;
const MOST_ROWS = 80;
const MOST_LEVELS = 20;
const MOST_CRITERIA = 50;

interface Cell {
  readonly text: string;
  readonly column: number;
  readonly row: number;
}

const WEIGHT = /^(weight(ing)?|counts?|factor|×|x)$/i;
const POINTS_LINE = /^(points?|pts\.?|score|value)$/i;
const CRITERION = /^(criteri(on|a)|skill|aspect|category|what)s?$/i;
const LEVEL = /^levels?$/i;
const NO_LEVEL = /^[-–—/]$/;

/**
 * Makes a rubric of a table: criteria down and levels across or the other way about, points in the heads, in a line of their own or in the cells. It finds
 * out which; `said` says it otherwise. Cells that it cannot use are named, never dropped silently.
 */
export function readGrid(
  grid: Grid,
  said: Partial<Pick<Understood, 'criteria' | 'bestFirst'>> = {},
): ReadGrid {
  if (grid.cells.some((line) => line.slice(MOST_COLUMNS).some((c) => c.trim() !== '')))
    return { ok: false, reason: 'too-wide' };
  if (grid.cells.filter((line) => line.some((c) => c.trim() !== '')).length > MOST_ROWS)
    return { ok: false, reason: 'too-long' };
  const { name, lines } = tableIn(grid.cells);
  if (lines.length === 0) return { ok: false, reason: 'empty' };
  if (lines.length < 2 || lines[0]!.length < 2) return { ok: false, reason: 'no-table' };
  const down = lines;
  const across = transposed(lines);
  const criteria = said.criteria ?? whichWay(down, across);
  const reader = new TableReader(criteria === 'down' ? down : across);
  const read = reader.read();
  if (read.criteria.length === 0 || read.criteria.every((c) => c.levels.length === 0))
    return { ok: false, reason: 'no-table' };
  if (read.criteria.length > MOST_CRITERIA) return { ok: false, reason: 'too-long' };
  if (read.criteria.some((c) => c.levels.length > MOST_LEVELS)) return { ok: false, reason: 'too-wide' };
  const bestFirst = said.bestFirst ?? read.criteria.some(fallsInPoints);
  const special = (grid.special ?? []).map(
    ({ column, row, is }): GridTrouble => trouble({ text: grid.cells[row]?.[column] ?? '', column, row }, is),
  );
  return {
    ok: true,
    name,
    criteria: read.criteria.map((c) => ({ ...c, levels: bestFirst ? c.levels.toReversed() : c.levels })),
    understood: { criteria, points: read.points, bestFirst, weights: read.weights },
    troubles: [...read.troubles, ...special],
  };
}

const trouble = (cell: Cell, what: GridTrouble['what']): GridTrouble => ({
  cell: cellName(cell.column, cell.row),
  what,
  said: cell.text.length > 40 ? `${cell.text.slice(0, 39)}…` : cell.text,
});

/** The table without empty lines and columns round it; what stands alone above it is its name. */
function tableIn(cells: Grid['cells']): { name: string; lines: Cell[][] } {
  const lines = cells
    .map((line, row) => line.map((text, column): Cell => ({ text: plainText(text), column, row })))
    .filter((line) => line.some((c) => c.text !== ''));
  let name = '';
  while (lines.length > 1 && lines[0]!.filter((c) => c.text !== '').length === 1) {
    // A name stands over more than one column of what follows; a head of one is none.
    if (lines[1]!.filter((c) => c.text !== '').length < 2) break;
    name ||= lines[0]!.find((c) => c.text !== '')!.text;
    lines.shift();
  }
  const used = new Set(lines.flatMap((line) => line.filter((c) => c.text !== '').map((c) => c.column)));
  const columns = [...used].sort((a, b) => a - b);
  return {
    name,
    lines: lines.map((line) =>
      columns.map((column) => line[column] ?? { text: '', column, row: line[0]!.row }),
    ),
  };
}

const plainText = (text: string): string => unshield(text.replace(/\r\n?/g, '\n').trim());

const transposed = (lines: readonly Cell[][]): Cell[][] =>
  lines[0]!.map((_, i) => lines.map((line) => line[i]!));

/** Levels are told by their points, then by what the corner says; the usual grid has its criteria down. */
function whichWay(down: Cell[][], across: Cell[][]): Understood['criteria'] {
  const corner = down[0]![0]!.text;
  if (CRITERION.test(corner)) return 'down';
  if (LEVEL.test(corner)) return 'across';
  const numbered = (table: Cell[][]) => {
    const heads = table[0]!.slice(1).filter((c) => c.text !== '' && !WEIGHT.test(c.text));
    return heads.length > 0 && heads.every((c) => readHead(c.text).points !== null);
  };
  if (numbered(down) !== numbered(across)) return numbered(down) ? 'down' : 'across';
  // Weights stand beside criteria, points beside levels.
  const heads = (table: Cell[][], what: RegExp) => table[0]!.some((c) => what.test(c.text));
  const isDown = heads(down, WEIGHT) || heads(across, POINTS_LINE);
  const isAcross = heads(across, WEIGHT) || heads(down, POINTS_LINE);
  if (isDown !== isAcross) return isDown ? 'down' : 'across';
  const rising = (table: Cell[][]) =>
    table.slice(1).filter((line) => {
      const points = line.slice(1).map((c) => readCell(c.text).points);
      if (points.length < 2 || points.some((p) => p === null)) return false;
      const steps = points.slice(1).map((p, i) => Math.sign(p! - points[i]!));
      return steps.every((s) => s === steps[0] && s !== 0);
    }).length /
    (table.length - 1);
  return rising(across) > rising(down) ? 'across' : 'down';
}

const fallsInPoints = ({ levels }: DraftCriterion): boolean => {
  const points = levels.map((l) => l.points).filter((p) => p !== null);
  return points.length > 1 && points[0]! > points.at(-1)!;
};

/** Reads a table whose criteria go down. */
class TableReader {
  readonly #lines: readonly Cell[][];
  readonly #troubles: GridTrouble[] = [];

  constructor(lines: readonly Cell[][]) {
    this.#lines = lines;
  }

  read(): {
    criteria: DraftCriterion[];
    points: Understood['points'];
    weights: boolean;
    troubles: readonly GridTrouble[];
  } {
    const [head, ...rest] = this.#lines;
    const weightAt = head!.findIndex((c, i) => i > 0 && WEIGHT.test(c.text));
    const levelsAt = head!.map((_, i) => i).filter((i) => i > 0 && i !== weightAt);
    const line = POINTS_LINE.test(rest[0]?.[0]?.text ?? '') ? rest.shift()! : null;
    const heads = levelsAt.map((i) => this.#head(head![i]!, line?.[i] ?? null));
    const inHeads = heads.some((h) => h.points !== null);
    const own = !inHeads && this.#mostly(rest, levelsAt, (c) => readOwnLevel(c.text) !== null);
    const inCells = !inHeads && !own && this.#mostly(rest, levelsAt, (c) => readCell(c.text).points !== null);
    if (inHeads)
      this.#missingPoints(
        heads,
        levelsAt.map((i) => head![i]!),
      );
    const names = new Set<string>();
    const criteria = rest.flatMap((cells): DraftCriterion[] => {
      const levels = levelsAt.flatMap((i, n): DraftLevel[] =>
        this.#level(cells[i]!, heads[n]!, own, inCells),
      );
      const first = cells[0]!;
      if (first.text === '') {
        this.#troubles.push(trouble(first, 'no-name'));
        if (levels.every((l) => l.descriptor === '')) return [];
      }
      if (names.has(first.text)) this.#troubles.push(trouble(first, 'same-name'));
      names.add(first.text);
      const name = this.#short(first, first.text || 'Criterion', 200);
      return [{ name, weight: weightAt > 0 ? this.#weight(cells[weightAt]!) : 100, levels }];
    });
    return {
      criteria,
      points: inHeads ? (line ? 'line' : 'heads') : own || inCells ? 'cells' : 'none',
      weights: weightAt > 0,
      troubles: this.#troubles,
    };
  }

  #head(cell: Cell, below: Cell | null): DraftLevel {
    const said = readHead(cell.text);
    if (isNumberWord(cell.text)) this.#troubles.push(trouble(cell, 'number-word'));
    const fromLine = below && below.text !== '' ? readHead(below.text).points : null;
    if (below && below.text !== '' && fromLine === null) this.#troubles.push(trouble(below, 'no-points'));
    return {
      name: this.#short(cell, fromLine === null ? said.words : cell.text, 100),
      descriptor: '',
      points: fromLine ?? said.points,
    };
  }

  #missingPoints(heads: readonly DraftLevel[], cells: readonly Cell[]): void {
    for (const [i, head] of heads.entries())
      if (head.points === null && !isNumberWord(cells[i]!.text))
        this.#troubles.push(trouble(cells[i]!, 'no-points'));
  }

  #level(cell: Cell, head: DraftLevel, own: boolean, inCells: boolean): DraftLevel[] {
    if (NO_LEVEL.test(cell.text)) return [];
    if (own) {
      if (cell.text === '') return [];
      const level = readOwnLevel(cell.text);
      if (level)
        return [{ name: level.name, descriptor: this.#short(cell, level.words, 4000), points: level.points }];
      this.#troubles.push(trouble(cell, 'no-points'));
      return [{ ...head, descriptor: this.#short(cell, cell.text, 4000) }];
    }
    if (!inCells) {
      if (isNumberWord(cell.text)) this.#troubles.push(trouble(cell, 'number-word'));
      return [{ ...head, descriptor: this.#short(cell, cell.text, 4000) }];
    }
    if (cell.text === '') return [];
    const said = readCell(cell.text);
    if (said.points === null)
      this.#troubles.push(trouble(cell, isNumberWord(cell.text) ? 'number-word' : 'no-points'));
    return [{ name: head.name, descriptor: this.#short(cell, said.words, 4000), points: said.points }];
  }

  #weight(cell: Cell): number {
    if (cell.text === '') return 100;
    const weight = readWeight(cell.text);
    if (weight === null) this.#troubles.push(trouble(cell, 'no-weight'));
    return weight ?? 100;
  }

  #short(cell: Cell, text: string, most: number): string {
    if (text.length <= most) return text;
    this.#troubles.push(trouble(cell, 'too-long'));
    return text.slice(0, most);
  }

  #mostly(lines: readonly Cell[][], columns: readonly number[], holds: (cell: Cell) => boolean): boolean {
    const cells = lines
      .flatMap((line) => columns.map((i) => line[i]!))
      .filter((c) => c.text !== '' && !NO_LEVEL.test(c.text));
    return cells.length > 0 && cells.filter(holds).length >= cells.length * 0.6;
  }
}
