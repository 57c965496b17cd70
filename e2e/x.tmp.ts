import { removeFolder, startApp } from './support/app.ts';
import { launchBrowser, openPage } from './support/browser.ts';
const app = await startApp();
const browser = await launchBrowser();
try {
  const { page, faults } = await openPage(browser, app);
  const go = async (id: string, there: string) => {
    await page.goto(`${app.origin}/measure/runs/${id}`);
    await page.waitForSelector(there);
    await new Promise((r) => setTimeout(r, 600));
  };
  await go('demo-cormorant-hot', '[data-doubt]');
  await page.click('[data-doubt] text');
  await new Promise((r) => setTimeout(r, 400));
  await page.screenshot({ path: '/tmp/pics/heat.png' });
  await page.keyboard.press('Escape');
  await new Promise((r) => setTimeout(r, 400));
  const marks = await page.$$eval('svg [role="button"]', (all) => all.map((one) => one.getAttribute('aria-label')));
  console.log(marks);
  await page.evaluate(() =>
    (document.querySelector('[data-mark="knee"] [role="button"]') as SVGElement | null)?.focus(),
  );
  await page.keyboard.press('Enter');
  await new Promise((r) => setTimeout(r, 400));
  await page.screenshot({ path: '/tmp/pics/knee.png' });
  console.log(faults);
} finally {
  await browser.close();
  await app.stop();
  removeFolder(app.dataFolder);
}
