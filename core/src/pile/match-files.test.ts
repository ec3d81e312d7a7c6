import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { whoseFile } from './match-files.ts';

const CLASS = [
  { given: 'Ada', family: 'Stone' },
  { given: 'Ada', family: 'Stone-Miller' },
  { given: 'Aleksander', family: 'Kowalczyk' },
  { given: 'Aleksandra', family: 'Kowalczyk' },
  { given: 'Tove', family: 'Bäcklund' },
  { given: 'Caoimhe', family: 'O’Dwyer' },
  { given: 'Thảo Vy', family: 'Nguyễn' },
  { given: 'Katla', family: 'Þórsdóttir' },
];
const whose = (path: string) => {
  const at = whoseFile(path, CLASS);
  return at === null ? null : `${CLASS[at]!.given} ${CLASS[at]!.family}`;
};

describe('whose file it is', () => {
  test.each([
    ['Stone, Ada.pdf', 'Ada Stone'],
    ['ada_stone-page 2.JPG', 'Ada Stone'],
    ['scan 12 Ada Stone-Miller.pdf', 'Ada Stone-Miller'],
    ['AdaStone.pdf', 'Ada Stone'],
    ['7K/Bäcklund Tove/IMG_0012.jpg', 'Tove Bäcklund'],
    ['Baecklund.docx', 'Tove Bäcklund'],
    ['backlund tove (1).pdf', 'Tove Bäcklund'],
    ['Ba\u0308cklund.pdf', 'Tove Bäcklund'],
    ['odwyer.pdf', 'Caoimhe O’Dwyer'],
    ["O'Dwyer, Caoimhe.pdf", 'Caoimhe O’Dwyer'],
    ['Nguyen Thao Vy.pdf', 'Thảo Vy Nguyễn'],
    ['thorsdottir_katla.png', 'Katla Þórsdóttir'],
    ['Kowalczyk Aleksandra.pdf', 'Aleksandra Kowalczyk'],
    ['aleksander.pdf', 'Aleksander Kowalczyk'],
  ])('%s is by %s', (path, who) => expect(whose(path)).toBe(who));

  test.each([
    ['Kowalczyk.pdf'],
    ['ada.pdf'],
    ['scan 0001.pdf'],
    ['stonehenge.pdf'],
    [''],
    ['.pdf'],
    ['Ada Kowalczyk.pdf'],
  ])('%s is nobody’s, or might be several’s', (path) => expect(whose(path)).toBeNull());

  test('of nobody there is nobody', () => expect(whoseFile('Ada Stone.pdf', [])).toBeNull());

  test('whatever else stands in a path, both names of one student alone find that student', () => {
    const noise = fc.stringMatching(/^[0-9_ ()-]{0,12}$/);
    fc.assert(
      fc.property(
        fc.constantFrom(...CLASS),
        noise,
        noise,
        fc.boolean(),
        ({ given, family }, before, after, turned) => {
          const name = turned ? `${family} ${given}` : `${given} ${family}`;
          expect(whose(`${before}${name}${after}.pdf`)).toBe(`${given} ${family}`);
        },
      ),
    );
  });
});
