import * as z from 'zod';

/** The teacher's inks. They are used for marks and for nothing else on the screen. */
export const InkColour = z.enum(['garnet', 'lake', 'moss', 'amber', 'plum']);
export type InkColour = z.infer<typeof InkColour>;

export const INK_HEX: Readonly<Record<InkColour, string>> = {
  garnet: '#b0253a',
  lake: '#1f63b5',
  moss: '#3f7a35',
  amber: '#e0a100',
  plum: '#7a3d86',
};

/** What a mark is about. A focus is told by its sign and its name as well as by colour. */
export const FocusName = z.string().min(1).max(40);
export type FocusSign = 'disc' | 'triangle' | 'square' | 'star' | 'diamond';

export const SIGN_OF: Readonly<Record<InkColour, FocusSign>> = {
  garnet: 'disc',
  amber: 'triangle',
  lake: 'square',
  moss: 'star',
  plum: 'diamond',
};

/** A pen is a tool with all it needs to know: taking it is one move, and there is nothing else to set. */
export type Pen =
  | {
      readonly tool: 'ink';
      readonly name: string;
      readonly colour: InkColour;
      readonly width: number;
      readonly focus: string | null;
    }
  | {
      readonly tool: 'highlight';
      readonly name: string;
      readonly colour: InkColour;
      readonly width: number;
      readonly focus: string | null;
    }
  | {
      readonly tool: 'note';
      readonly name: string;
      readonly colour: InkColour;
      readonly focus: string | null;
    }
  | { readonly tool: 'eraser'; readonly name: string }
  | { readonly tool: 'hand'; readonly name: string };

/** The tray a teacher starts with; its place in the row is the key that takes it. */
export const STARTER_TRAY: readonly Pen[] = [
  { tool: 'ink', name: 'fine', colour: 'garnet', width: 1.6, focus: null },
  { tool: 'ink', name: 'broad', colour: 'lake', width: 3, focus: null },
  { tool: 'highlight', name: 'method', colour: 'amber', width: 11, focus: 'method' },
  { tool: 'highlight', name: 'well put', colour: 'moss', width: 11, focus: 'well put' },
  { tool: 'note', name: 'accuracy', colour: 'garnet', focus: 'accuracy' },
  { tool: 'note', name: 'wording', colour: 'lake', focus: 'wording' },
  { tool: 'eraser', name: 'rub out' },
  { tool: 'hand', name: 'hand' },
];
