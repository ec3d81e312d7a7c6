import { isMarkingPen, type Pen, type Tool } from './pen.ts';

/** What each tool is called. */
export const TOOL_NAMES: Readonly<Record<Tool, string>> = {
  ink: 'Pen',
  highlight: 'Highlight',
  note: 'Note',
  line: 'Line',
  arrow: 'Arrow',
  box: 'Box',
  ring: 'Ring',
  text: 'Page text',
  stamp: 'Stamp',
  cut: 'Cut',
  add: 'Addition',
  swap: 'Swap',
  eraser: 'Eraser',
  hand: 'Select',
  lasso: 'Lasso',
};

const capital = (words: string): string => words.slice(0, 1).toLocaleUpperCase('en') + words.slice(1);

/** What a pen is, then its name, "Note: accuracy"; the name alone where it says what it is, "Red pen". A tool that leaves no mark is called by its name. */
export function penTitle(pen: Pen): string {
  const tool = TOOL_NAMES[pen.tool];
  const says = pen.name.toLocaleLowerCase('en').includes(tool.toLocaleLowerCase('en'));
  if (!isMarkingPen(pen) || says) return capital(pen.name);
  return `${tool}: ${pen.name}`;
}
