import { benchClass } from './school.ts';
import { launch, signedIn } from './browser.ts';
import { writeFileSync } from 'node:fs';
import type { Running } from '@jotmark/server';
export async function zz(running: Running) {
  const { login, assignmentId } = await benchClass(running, 24, 0);
  const browser = await launch();
  const page = await signedIn(browser, running, login);
  page.on('request', (r) => { if (r.url().includes('/api/')) console.log('req', r.method(), new URL(r.url()).pathname); });
  await page.goto(`${running.address}/`);
  await page.waitForTimeout(1500);
  await page.goto(`${running.address}/piles/${assignmentId}`);
  const cdp = await page.context().newCDPSession(page);
  await cdp.send('Profiler.enable');
  await cdp.send('Profiler.setSamplingInterval', { interval: 200 });
  for (let n = 0; n < 6; n++) {
    const link = page.getByRole('table').getByRole('link').nth(n * 2);
    await link.waitFor();
    await page.waitForTimeout(600);
    await link.hover();
    await page.waitForTimeout(n < 3 ? 200 : 1200);
    console.log('--- click', n);
    await page.evaluate(() => {
      performance.clearMarks();
      performance.clearMeasures();
      const w = window as any;
      w.ev = [];
      addEventListener('click', () => { w.t0 = performance.now(); w.ev = []; const tick = () => { w.ev.push(performance.now() - w.t0); if (w.ev.length < 12) requestAnimationFrame(tick); }; requestAnimationFrame(tick); }, { once: true, capture: true });
    });
    if (n === 5) await cdp.send('Profiler.start');
    await link.click();
    await page.waitForTimeout(400);
    if (n === 5) { const { profile } = await cdp.send('Profiler.stop'); writeFileSync('/tmp/click.cpuprofile', JSON.stringify(profile)); }
    console.log(await page.evaluate(() => { const w = window as any; return JSON.stringify({ marks: performance.getEntriesByType('mark').map((m: any) => [m.name, m.detail, +(m.startTime - w.t0).toFixed(1)]), frames: w.ev.map((x: number) => +x.toFixed(1)) }); }));
    await page.getByRole('link', { name: 'Bench', exact: true }).click();
  }
  await browser.close();
  return [];
}
