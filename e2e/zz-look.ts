import { fileURLToPath } from 'node:url';
import { readSettings, serve } from '@jotmark/server';
import { chromium } from '@playwright/test';
const running = await serve(readSettings({ DATABASE_URL: process.env.DATABASE_URL, PORT: '0', WEB_DIR: fileURLToPath(new URL('../web/dist', import.meta.url)), SCHOOL_NAME: 'Hollin Bay School', JOTMARK_DEMO: '1', LOG_LEVEL: 'error' }));
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu'] });
const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
const page = await context.newPage();
page.on('console', (m) => m.type() === 'error' && console.log('CONSOLE', m.text().slice(0, 300)));
page.on('pageerror', (e) => console.log('PAGEERROR', e.message.slice(0, 300)));
await page.goto(running.address);
const shoot = async (name: string) => { await page.waitForTimeout(500); await page.screenshot({ path: `/tmp/look/${name}.png` }); };
const drawn = () => page.locator('canvas[data-drawn]').first().waitFor();
const as = (name: RegExp) => page.getByRole('button', { name }).click();
const what = await import(process.argv[2]!);
try { await what.default({ page, shoot, drawn, as, context, address: running.address }); } catch (e) { console.log('ERR', String(e).slice(0, 600)); await shoot('error'); }
await browser.close();
await running.stop();
process.exit(0);
