/**
 * Names in the order of a register, the same on every machine: letters before their accents, capitals beside small ones, numbers by their
 * size. English rules, whatever language the machine is set to.
 */
const COLLATOR = new Intl.Collator('en', { numeric: true });

export const compareNames = (a: string, b: string): number => COLLATOR.compare(a, b);
