import * as z from 'zod';

/**
 * A list that is counted before any of its items is looked at, and whose first misfit ends the reading: a request full of bad items
 * costs no more than one of them.
 */
export function listOf<S extends z.ZodType>(
  item: S,
  most: number,
  least = 0,
): z.ZodType<z.output<S>[], z.output<S>[]> {
  return z
    .custom<z.output<S>[]>()
    .transform((value: unknown, context) => {
      if (!Array.isArray(value) || value.length > most || value.length < least) {
        context.addIssue({ code: 'custom', message: `a list of ${least} to ${most}` });
        return z.NEVER;
      }
      const out: z.output<S>[] = [];
      for (const [i, raw] of value.entries()) {
        const read = item.safeParse(raw);
        if (!read.success) {
          const issue = read.error.issues[0]!;
          context.addIssue({ code: 'custom', message: issue.message, path: [i, ...issue.path] });
          return z.NEVER;
        }
        out.push(read.data as z.output<S>);
      }
      return out;
    })
    .meta({ type: 'array' }) as unknown as z.ZodType<z.output<S>[], z.output<S>[]>;
}

/** Whole numbers of a stroke and the like: counted first, then each looked at by `fits`, up to the first that does not. */
export function numbersOf(
  most: number,
  least: number,
  fits: (value: number, index: number) => boolean,
  each = 1,
): z.ZodType<number[]> {
  return z.custom<number[]>(
    (value) =>
      Array.isArray(value) &&
      value.length >= least &&
      value.length <= most &&
      value.length % each === 0 &&
      value.every((v, i) => Number.isInteger(v) && fits(v, i)),
    `${least} to ${most} whole numbers that fit`,
  );
}
