import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import type { Browser, Page } from 'puppeteer-core';
import { median } from '#core/1-ground/numbers/statistics.ts';
import { bytesText } from '#core/1-ground/units/format.ts';
import type { RunDocument } from '#core/4-runs/run/run-document.ts';
import {
  callApi,
  removeFolder,
  root,
  startApp,
  temporaryFolder,
  volumeOfFolder,
  type App,
} from '../e2e/support/app.ts';
import { launchBrowser, openPage } from '../e2e/support/browser.ts';

const seconds = (value: number) => `${value.toFixed(2)} s`;

/** Resident memory of a process in bytes; Linux. */
function residentBytes(pid: number): number {
  const pages = Number(readFileSync(`/proc/${pid}/statm`, 'utf8').split(' ')[1]);
  return pages * 4096;
}

/** What `npm pack` makes, and what it takes once it is installed, without its dependencies. */
function packageSize(): string[] {
  const packing = ['pack', '--dry-run', '--json', '--ignore-scripts'];
  const [made] = JSON.parse(execFileSync('npm', packing, { cwd: root, encoding: 'utf8' })) as {
    size: number;
    unpackedSize: number;
  }[];
  return ['the package, packed and unpacked', `${bytesText(made!.size)}, ${bytesText(made!.unpackedSize)}`, ''];
}

/** What a person waits for and what the program takes, each with what was asked for. */
export async function benchApplication(): Promise<string[][]> {
  const rows: string[][] = [packageSize()];
  const dataFolder = temporaryFolder('bench-data');
  let begin = performance.now();
  let app = await startApp({ dataFolder });
  rows.push(['first start with the demo workspace', seconds((performance.now() - begin) / 1000), 'a few seconds']);
  await app.stop();
  begin = performance.now();
  app = await startApp({ dataFolder });
  rows.push(['warm start to listening', seconds((performance.now() - begin) / 1000), 'under 2 s']);
  const browser = await launchBrowser();
  try {
    await new Promise((resolve) => setTimeout(resolve, 3000));
    rows.push(['memory of the idle server', `${Math.round(residentBytes(app.process.pid!) / 1e6)} MB`, '']);
    rows.push(...(await firstReading(app)));
    rows.push(...(await firstLoad(browser, app)), await switching(browser, app));
    await app.stop();
    rows.push(await liveFrames(browser));
  } finally {
    await browser.close();
    await app.stop();
    removeFolder(dataFolder);
  }
  return rows;
}

/** From pressing run to the first bytes, and to a first verdict. */
async function firstReading(app: App): Promise<string[][]> {
  const folder = temporaryFolder('bench');
  try {
    const volume = await volumeOfFolder(app, folder);
    const begin = performance.now();
    const request = { volumeId: volume.id, folder, recipeId: 'short-passes', options: { passes: 2 } };
    const { id } = (await callApi(app, 'POST', '/runs', request)).document as { id: string };
    const when = async (reached: (run: RunDocument) => boolean): Promise<number> => {
      for (;;) {
        const run = (await callApi(app, 'GET', `/runs/${id}`)).document as RunDocument;
        if (reached(run)) return (performance.now() - begin) / 1000;
        await new Promise((resolve) => setTimeout(resolve, 20));
      }
    };
    const reading = await when((run) => run.samples.cumulativeBytes.some((bytes) => bytes > 0));
    // A first writing and a first reading pass are behind it.
    const verdict = await when((run) => run.samples.direction.includes('read') && (run.samples.pass.at(-1) ?? 0) > 1);
    await when((run) => run.endedAt !== null);
    return [
      ['first reading after pressing run', seconds(reading), 'within 2 s'],
      ['first verdict, both directions', seconds(verdict), 'within 10 s'],
    ];
  } finally {
    removeFolder(folder);
  }
}

/** JavaScript that the first page loads, as it is sent compressed: before it asks for its first picture, and in all. */
async function firstLoad(browser: Browser, app: App): Promise<string[][]> {
  const { page } = await openPage(browser, app);
  await page.setCacheEnabled(false);
  const asked: string[] = [];
  page.on('request', (request) => {
    const { pathname } = new URL(request.url());
    if (pathname.endsWith('.js')) asked.push(pathname);
  });
  await page.reload();
  await page.waitForSelector('[data-pass]');
  // The live feed stays open.
  await page.waitForNetworkIdle({ concurrency: 1 });
  await page.close();
  const names = [...new Set(asked)];
  const textOf = (name: string) => readFileSync(join(root, 'dist/web', name));
  const kilobytes = (some: readonly string[]) =>
    `${(some.reduce((sum, name) => sum + gzipSync(textOf(name), { level: 9 }).length, 0) / 1000).toFixed(0)} kB`;
  const firstOfPicture = names.findIndex((name) => textOf(name).includes('recharts'));
  return [
    ['first load before its first picture, compressed', kilobytes(names.slice(0, firstOfPicture)), 'under 230 kB'],
    ['first load in all', kilobytes(names), ''],
  ];
}

/** Places in the order of the rail, each with what is there once it is drawn. */
const DRAWN: readonly (readonly [place: string, ready: string])[] = [
  ['measure', '[data-pass]'],
  ['drives', '[data-run-levels]'],
  ['workloads', '[data-item]'],
  ['fit', '[data-mark]'],
  ['copies', '[data-binds]'],
];

/** From pressing a place on the rail to its picture, where everything was loaded before. */
async function switching(browser: Browser, app: App): Promise<string[]> {
  const { page } = await openPage(browser, app);
  const taken: number[] = [];
  for (let round = 0; round < 4; round += 1) {
    for (const [place, ready] of DRAWN) {
      const milliseconds = await page.evaluate(
        async (address, selector) => {
          const begin = performance.now();
          document.querySelector<HTMLElement>(`nav a[href^="${address}"]`)!.click();
          while (!document.querySelector(selector)) await new Promise((resolve) => requestAnimationFrame(resolve));
          return performance.now() - begin;
        },
        `/${place}`,
        `main ${ready}`,
      );
      if (round > 0) taken.push(milliseconds);
    }
  }
  await page.close();
  return ['from one place to another, median of 15', `${median(taken).toFixed(0)} ms`, ''];
}

/** Frames per second of the page while a run of 30 minutes is on screen and goes on. */
async function liveFrames(browser: Browser): Promise<string[]> {
  const app = await startApp({ empty: true, standInSpeed: 600 });
  try {
    const request = {
      volumeId: 'stand-in-anchor-16t',
      folder: '',
      recipeId: 'short-passes',
      options: { passes: null, seconds: 20 },
    };
    const { id } = (await callApi(app, 'POST', '/runs', request)).document as { id: string };
    const length = async () =>
      ((await callApi(app, 'GET', `/runs/${id}`)).document as RunDocument).samples.atSeconds.at(-1) ?? 0;
    while ((await length()) < 1800) await new Promise((resolve) => setTimeout(resolve, 50));
    await callApi(app, 'POST', `/runs/${id}/stop`, {});
    await app.stop();
    return await framesOnRealPace(browser, app.dataFolder, id);
  } finally {
    await app.stop();
    removeFolder(app.dataFolder);
  }
}

/** Feeds the page a run of 30 minutes that goes on at ten samples a second, and counts its frames. */
async function framesOnRealPace(browser: Browser, dataFolder: string, id: string): Promise<string[]> {
  const app = await startApp({ dataFolder, empty: true });
  try {
    const run = (await callApi(app, 'GET', `/runs/${id}`)).document as RunDocument;
    const { page } = await openPage(browser, app);
    await page.setRequestInterception(true);
    page.on('request', (request) => {
      if (request.url().endsWith(`/api/runs/${id}`)) {
        const body = JSON.stringify({ ...run, state: 'running', endedAt: null });
        void request.respond({ status: 200, contentType: 'application/json', body });
      } else void request.continue();
    });
    await page.evaluateOnNewDocument(fakeFeed, id);
    await page.goto(`${app.origin}/measure/runs/${id}`);
    await page.waitForSelector('[data-pass]');
    const frames = await countFrames(page, 6);
    await page.close();
    return [
      `live trace, ${run.samples.atSeconds.length} samples over 30 min on screen`,
      `${frames.toFixed(0)} frames/s`,
      '50 or more',
    ];
  } finally {
    await app.stop();
  }
}

/** Runs in the page: a live feed that sends one more sample every tenth of a second. */
function fakeFeed(id: string): void {
  const Real = window.EventSource;
  window.EventSource = class extends Real {
    constructor(url: string) {
      super(url.includes(id) ? '/api/live' : url);
      if (!url.includes(id)) return;
      let at = 1810;
      let bytes = 4e11;
      setInterval(() => {
        at += 0.1;
        bytes += 2.2e7 + 2e6 * Math.sin(at);
        const samples = {
          atSeconds: [at],
          cumulativeBytes: [bytes],
          direction: ['write'],
          pass: [999],
          file: [0],
          operations: [20],
          latencyMaxSeconds: [0.1],
        };
        const data = JSON.stringify([{ type: 'event', runId: id, event: { type: 'samples', samples } }]);
        this.onmessage?.(new MessageEvent('message', { data }));
      }, 100);
    }
    override set onmessage(listener: ((event: MessageEvent) => void) | null) {
      this.listener = listener;
    }
    override get onmessage() {
      return this.listener;
    }
    private listener: ((event: MessageEvent) => void) | null = null;
  } as typeof EventSource;
}

function countFrames(page: Page, forSeconds: number): Promise<number> {
  return page.evaluate(
    (length) =>
      new Promise<number>((resolve) => {
        let frames = 0;
        const begin = performance.now();
        const next = () => {
          frames += 1;
          const passed = (performance.now() - begin) / 1000;
          if (passed < length) requestAnimationFrame(next);
          else resolve(frames / passed);
        };
        requestAnimationFrame(next);
      }),
    forSeconds,
  );
}
