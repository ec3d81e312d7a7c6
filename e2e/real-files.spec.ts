import { execFileSync } from 'node:child_process';
import { drag, drawn, expect, handIn, onPage, openDesk, Pen, saved, test } from './story.ts';

/** poppler's picture of the first page behind the cover sheet, a pixel a point. */
function picture(file: string): { width: number; height: number; at(x: number, y: number): number[] } {
  const ppm = execFileSync('pdftoppm', ['-r', '72', '-cropbox', '-f', '2', '-singlefile', file], {
    maxBuffer: 1 << 26,
  });
  const [head, width, height] = /^P6\s(\d+) (\d+)\s255\s/.exec(ppm.subarray(0, 40).toString('latin1'))!;
  const at = (x: number, y: number) => [
    ...ppm.subarray(head!.length + (Math.round(y) * Number(width) + Math.round(x)) * 3).subarray(0, 3),
  ];
  return { width: Number(width), height: Number(height), at };
}

for (const name of ['drawn', 'shifted', 'turned', 'packed', 'scan'] as const)
  test(`a file made elsewhere (${name}) goes the whole way and comes back with its marks in place`, async ({
    makeClass,
    as,
    made,
  }) => {
    const c = await makeClass(['Ada']);
    const ada = await as(c.students[0]!);
    await handIn(ada, c.title, made[name]);
    const teacher = await as(c.teacher);
    await openDesk(teacher, c);
    await teacher.keyboard.press('p');
    await teacher.keyboard.press('1');
    const pen = await Pen.on(teacher);
    const line: [number, number, number][] = [];
    for (let i = 0; i <= 12; i++) line.push([...(await onPage(teacher, 0.3 + i * 0.025, 0.55)), 0.9]);
    await pen.stroke(line);
    await teacher.keyboard.press('3');
    await drag(teacher, [0.3, 0.62], [0.6, 0.62]);
    await expect(teacher.getByText('2 marks, 0 notes')).toBeVisible();
    await saved(teacher);
    await teacher.getByRole('button', { name: /^Marked/ }).click();
    await teacher.getByRole('button', { name: 'Hand back 1 copy' }).click();
    await teacher.getByRole('dialog').getByRole('button', { name: 'Hand back 1 copy' }).click();
    await expect(teacher.getByRole('row', { name: /handed back/ })).toBeVisible();
    await ada.reload();
    await drawn(ada);
    const download = ada.waitForEvent('download');
    await ada.getByRole('button', { name: 'PDF to keep or print' }).click();
    const file = await (await download).path();
    expect(execFileSync('qpdf', ['--check', file], { encoding: 'utf8' })).toContain(
      'No syntax or stream encoding errors',
    );
    const { width, height, at } = picture(file);
    // The fine pen is hardly wider than a pixel: the reddest of three.
    const reds = [-1, 0, 1].map((dy) => at(width * 0.45, height * 0.55 + dy));
    expect(
      Math.max(...reds.map(([r, , b]) => r! - b!)),
      `garnet ink at the middle of the stroke: ${reds.join(' | ')}`,
    ).toBeGreaterThan(60);
    const amber = at(width * 0.45, height * 0.62);
    expect(amber[0]! - amber[2]!, `amber: ${amber}`).toBeGreaterThan(50);
    expect(at(width * 0.45, height * 0.8)).toEqual([255, 255, 255]);
  });
