import { chromium } from '@playwright/test';

const b = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu'],
});
const c = await b.newContext({ viewport: { width: 1280, height: 800 } });
const page = await c.newPage();
page.on('console', (m) => m.type() === 'error' && console.log('ERR', m.text()));
await page.goto('http://127.0.0.1:4321');
await page.getByRole('button', { name: /Maren/ }).click();
await page.getByText('copies to mark').waitFor();
await page.getByRole('link', { name: 'Classes', exact: true }).click();
await page.getByRole('link', { name: /^7K/ }).first().click();
await page.getByRole('link', { name: 'Mark book' }).click();
await page.getByRole('table').waitFor();
await page.waitForTimeout(500);
await page.screenshot({ path: '/tmp/look/book.png' });
await page.goBack();
await page.getByRole('link', { name: 'Feedback log' }).click();
await page.getByText('last word from me').first().waitFor();
await page.waitForTimeout(300);
await page.screenshot({ path: '/tmp/look/logs.png' });
await page.getByRole('link', { name: /Ibarra/ }).click();
await page.getByText('Comes again').waitFor();
await page.waitForTimeout(500);
await page.screenshot({ path: '/tmp/look/log.png' });
await page.getByRole('button', { name: 'Write a report' }).click();
await page.waitForTimeout(600);
await page.screenshot({ path: '/tmp/look/report.png' });
await page.getByRole('link', { name: /family talk/ }).click();
await page.getByText('What is on the paper').waitFor();
await page.waitForTimeout(500);
await page.screenshot({ path: '/tmp/look/sheet.png' });
await b.close();
