/** Letters and digits that are not taken for each other. */
const SIGNS = '23456789ABCDEFGHJKMNPQRSTVWXYZ';

/**
 * What stands for a student's name while a pile is marked blind: always the same for one copy, telling nothing of who it is, and
 * out of so many that two of one pile hardly ever agree. Made from the random part of the copy's id.
 */
export function blindName(copyId: string): { readonly given: string; readonly family: string } {
  let n = Number.parseInt(copyId.replaceAll('-', '').slice(-12), 16);
  let code = '';
  for (let i = 0; i < 5; i++) {
    code += SIGNS[n % SIGNS.length];
    n = Math.floor(n / SIGNS.length);
  }
  return { given: 'Copy', family: code };
}
