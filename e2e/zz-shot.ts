import { startApp } from '/work/main/e2e/support/app.ts';
import { launchBrowser, openPage } from '/work/main/e2e/support/browser.ts';
import { readFileSync } from 'node:fs';
// usage: shot.ts 'js-module-path'
const app = await startApp({ standInSpeed: 50, ...(process.env.EMPTY ? {} : { demo: true }) } as never);
const browser = await launchBrowser();
const { page } = await openPage(browser, app.address);
const steps = JSON.parse(readFileSync('/tmp/steps.json', 'utf8'));
const wait = (ms: number) => new Promise((r) => setTimeout(r, ms));
for (const [kind, a, b] of steps) {
  try {
    if (kind === 'go') { await page.goto(new URL(a, app.address).href); await wait(1500); }
    if (kind === 'ctx') { await page.evaluate((c: string) => { const k = 'tavrox-context'; const old = JSON.parse(localStorage.getItem(k) ?? '{"state":{},"version":2}'); old.state = { ...old.state, ...JSON.parse(c) }; localStorage.setItem(k, JSON.stringify(old)); }, a); }
    if (kind === 'click') { await page.evaluate((t: string) => { const el = [...document.querySelectorAll('button,[role=button],[role=radio]')].find((e) => (e.textContent ?? '').includes(t) || e.getAttribute('aria-label') === t); (el as any)?.dispatchEvent(new MouseEvent('click', { bubbles: true })); if (!el) console.log('none', t); }, a); await wait(900); }
    if (kind === 'sel') { await page.click(a); await wait(700); }
    if (kind === 'wait') await wait(Number(a));
    if (kind === 'size') await page.setViewport({ width: Number(a), height: Number(b) });
    if (kind === 'png') { await page.screenshot({ path: `/tmp/shots/${a}.png` as never }); }
    if (kind === 'eval') console.log(await page.evaluate(a));
  } catch (e) { console.log('fail', kind, a, String(e).slice(0, 200)); }
}
await browser.close(); await app.stop();
