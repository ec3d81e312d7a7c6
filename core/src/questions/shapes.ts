import * as z from 'zod';
import { BoxSchema } from '../passage/text-layer.ts';

/** A form field that the file brings along. Radio buttons and ticks of one group are one field with several boxes. */
export const FormField = z.object({
  kind: z.enum(['text', 'paragraph', 'choice', 'several']),
  name: z.string().max(200),
  boxes: z.array(BoxSchema).min(1).max(100),
  options: z.array(z.string().max(200)).max(100),
});
export type FormField = z.infer<typeof FormField>;

/** What is drawn on a page besides its text, as far as answers can go there: straight level rules, rectangles, form fields. Page space. */
export const PageShapes = z.object({
  rules: z.array(BoxSchema).max(2000),
  boxes: z.array(BoxSchema).max(2000),
  fields: z.array(FormField).max(500),
});
export type PageShapes = z.infer<typeof PageShapes>;

export const NO_SHAPES: PageShapes = { rules: [], boxes: [], fields: [] };
