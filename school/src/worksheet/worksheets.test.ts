import { PDFDocument } from '@cantoo/pdf-lib';
import { expect, test } from 'vitest';
import { ANSWERS } from '../answers/answers.ts';
import { fillIn } from '../answers/fill-in.ts';
import { Chance } from '../chance.ts';
import { findingYourWay, signsAndSquares, walkToTheLighthouse } from './worksheets.ts';

test.each([
  ['signs', signsAndSquares, 2, 8],
  ['way', findingYourWay, 3, 10],
  ['walk', walkToTheLighthouse, 4, 20],
] as const)(
  'worksheet %s has its pages and points, and every answer place lies on its page',
  async (_, make, pages, points) => {
    const sheet = await make();
    expect((await PDFDocument.load(sheet.bytes)).getPageCount()).toBe(pages);
    expect(sheet.points).toBe(points);
    for (const place of sheet.places) {
      expect(place.page).toBeLessThan(pages);
      expect(place.x + place.width).toBeLessThan(595);
      expect(place.y + (place.lines - 1) * place.leading, `question ${place.question}`).toBeLessThan(800);
      expect(ANSWERS[sheet.title]![place.question]!.length).toBeGreaterThan(0);
      for (const answer of ANSWERS[sheet.title]![place.question]!)
        expect(answer.points).toBeLessThanOrEqual(place.points * 100);
    }
  },
);

test('the same seed fills in the same answers', async () => {
  const sheet = await findingYourWay();
  const once = async () => [...(await fillIn(new Chance(3), sheet, 'Þóra Ünal', 0.5)).answers.values()];
  expect(await once()).toEqual(await once());
});
