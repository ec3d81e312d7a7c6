import { chromium } from '@playwright/test';
// usage: node shot.tmp.mjs login password [WxH] url=out ...
const [login, pass, size, ...pairs] = process.argv.slice(2);
const [width, height] = size.split('x').map(Number);
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] });
const p = await b.newPage({ viewport: { width, height }, hasTouch: width < 500, isMobile: width < 500 });
p.on('console', (m) => m.type() === 'error' && console.log('console:', m.text()));
await p.goto('http://127.0.0.1:4321/');
if (login !== '-') {
  await p.getByLabel(/login|name/i).first().fill(login);
  await p.getByLabel(/password/i).first().fill(pass);
  await p.keyboard.press('Enter');
  await p.waitForTimeout(2500);
}
for (const pair of pairs) {
  const i = pair.lastIndexOf('=');
  let [url, out] = [pair.slice(0, i), pair.slice(i + 1)];
  for (const step of url.split('>>')) {
    if (step.startsWith('/')) await p.goto('http://127.0.0.1:4321' + step);
    else if (step.startsWith('link:')) await p.getByRole('link', { name: step.slice(5) }).first().click();
    else if (step.startsWith('button:')) await p.getByRole('button', { name: step.slice(7) }).first().click();
    else if (step.startsWith('text:')) await p.getByText(step.slice(5)).first().click();
    else if (step.startsWith('key:')) await p.keyboard.press(step.slice(4));
    await p.waitForTimeout(1500);
  }
  await p.screenshot({ path: out });
  console.log(p.url(), await p.title());
}
await b.close();
