import type { Page } from 'puppeteer-core';
import { press, waitForText } from '../support/browser.ts';
import type { Workspace } from './workspace.ts';

/** A screen with certain data on it. */
export interface Scene {
  name: string;
  path: string;
  /** Something that is there once it is drawn. */
  ready: string;
  /** The workload that is chosen. */
  workloadId?: string;
  /** Whether drives and volumes carry names of sixty characters. */
  longNames?: boolean;
  /** Least share of the window that the main picture takes; none where there is no picture. */
  pictureShare?: number;
  /** Whether it differs from another only in its data: `npm run screens` alone looks at it. */
  isVariant?: boolean;
  /** What is done before it is looked at. */
  act?: (page: Page) => Promise<void>;
}

const sheet = (title: string) => async (page: Page) => {
  await page.waitForSelector('[role="dialog"]');
  await waitForText(page, title);
};
const opened = (button: string, title: string) => async (page: Page) => {
  await press(page, button);
  await sheet(title)(page);
};

/** Screens of a workspace in which nothing was done yet. */
export const EMPTY_SCENES: readonly Scene[] = [
  { name: 'measure-nothing', path: '/measure', ready: 'main' },
  { name: 'workloads-nothing', path: '/workloads', ready: 'main p' },
  { name: 'fit-nothing', path: '/fit', ready: 'main p' },
  { name: 'drives-nothing', path: '/drives', ready: 'main p' },
  { name: 'copies-nothing', path: '/copies', ready: 'main p' },
  { name: 'report-nothing', path: '/report', ready: 'main p' },
];

/** Screens of the demo workspace, and of what was laid beside it. */
export function scenesOf({ fourHours, failed }: Workspace): Scene[] {
  const run = (name: string, id: string, ready: string, more: Partial<Scene> = {}): Scene => ({
    name,
    path: `/measure/runs/${id}`,
    ready,
    pictureShare: 0.3,
    ...more,
  });
  return [
    { name: 'report', path: '/report', ready: 'svg[data-page="2"]' },
    {
      name: 'report-title',
      path: '/report',
      ready: 'svg[data-page="2"]',
      act: opened('Title and paper', 'Title and paper'),
    },
    run('run-take', 'demo-petrel-take', '[data-pass]'),
    run('run-passes', 'demo-petrel-passes', '[data-pass]', { isVariant: true }),
    run('run-spinning', 'demo-anchor-passes', '[data-pass]', { isVariant: true }),
    run('run-recovery', 'demo-limpet-fill', '[data-pass]', { isVariant: true }),
    run('run-doubts', 'demo-cormorant-hot', '[data-doubt]'),
    run('run-frames', 'demo-cormorant-frames', '[data-lane]'),
    run('run-ladder', 'demo-petrel-ladder', '[data-panel]'),
    run('run-scatter', 'demo-jetty4-scatter', '[data-dots]'),
    run('run-four-hours', fourHours, '[data-pass]', { workloadId: 'forty' }),
    run('run-failed', failed, '[data-pass]', { workloadId: 'one' }),
    run('run-long-names', 'demo-petrel-take', '[data-pass]', {
      workloadId: 'forty',
      longNames: true,
      // Names of sixty characters stand beside it.
      pictureShare: 0.28,
    }),
    { name: 'workloads', path: '/workloads', ready: '[data-item]', pictureShare: 0.3 },
    { isVariant: true, name: 'workloads-one', path: '/workloads/one', ready: '[data-item]', pictureShare: 0.3 },
    { name: 'workloads-forty', path: '/workloads/forty', ready: '[data-item]', longNames: true, pictureShare: 0.3 },
    {
      name: 'series',
      path: '/workloads/demo-kelp-sim',
      ready: '[data-series-dot]',
      workloadId: 'demo-kelp-sim',
      pictureShare: 0.3,
    },
    {
      name: 'load',
      path: '/workloads/demo-reef-keeper',
      ready: '[data-load-row][data-verdict]',
      workloadId: 'demo-reef-keeper',
      pictureShare: 0.2,
    },
    { name: 'fit-series', path: '/fit', ready: '[data-mark]', workloadId: 'demo-kelp-sim', pictureShare: 0.4 },
    {
      name: 'fit-load',
      path: '/fit',
      ready: '[data-mark]',
      workloadId: 'demo-reef-keeper',
      pictureShare: 0.4,
      act: async (page) => {
        await press(page, 'In time');
        await page.waitForSelector('[data-load-row]');
      },
    },
    run('run-replay', 'demo-jetty4-replay', '[data-load-row="predicted"]', { pictureShare: 0.2 }),
    { name: 'fit', path: '/fit', ready: '[data-mark]', pictureShare: 0.4 },
    { isVariant: true, name: 'fit-one', path: '/fit', ready: '[data-mark]', workloadId: 'one', pictureShare: 0.4 },
    {
      name: 'fit-forty',
      path: '/fit',
      ready: '[data-mark]',
      workloadId: 'forty',
      longNames: true,
      pictureShare: 0.4,
    },
    {
      name: 'fit-backlog',
      path: '/fit',
      ready: '[data-row][data-verdict="breaks"]',
      pictureShare: 0.4,
      act: async (page) => {
        await page.click('[data-row][data-verdict="breaks"]');
        await press(page, 'Backlog');
        await page.waitForSelector('svg[aria-label^="Backlog over"]');
      },
    },
    { name: 'sizing', path: '/sizing', ready: '[data-material]', pictureShare: 0.3 },
    {
      name: 'sizing-cost',
      path: '/sizing',
      ready: '[data-material]',
      pictureShare: 0.3,
      act: async (page) => {
        await press(page, 'Cost and margin');
        await page.waitForSelector('[data-front]');
      },
    },
    {
      name: 'sizing-away',
      path: '/sizing?store=away',
      ready: '[data-together]',
      pictureShare: 0.3,
    },
    {
      name: 'sizing-together',
      path: '/sizing?view=cost&store=together',
      ready: '[data-together]',
      pictureShare: 0.3,
    },
    { name: 'sizing-long-names', path: '/sizing', ready: '[data-together]', longNames: true, pictureShare: 0.3 },
    {
      name: 'sheet-plan',
      path: '/sizing',
      ready: '[data-material]',
      act: opened('Change the plan', 'Change the plan'),
    },
    { name: 'copies', path: '/copies', ready: '[data-binds]', pictureShare: 0.12 },
    { name: 'copies-long-names', path: '/copies', ready: '[data-binds]', longNames: true, pictureShare: 0.12 },
    { name: 'drives', path: '/drives', ready: '[data-run-levels]', pictureShare: 0.3 },
    { name: 'drives-long-names', path: '/drives', ready: '[data-run-levels]', longNames: true, pictureShare: 0.3 },
    {
      name: 'drives-several',
      path: '/drives',
      ready: '[data-run-levels]',
      pictureShare: 0.15,
      act: async (page) => {
        await press(page, 'Side by side');
        await page.waitForSelector('[data-overlay]');
        await page.waitForSelector('[data-compared]');
      },
    },
    {
      name: 'drives-links',
      path: '/drives',
      ready: '[data-run-levels]',
      pictureShare: 0.3,
      act: async (page) => {
        await press(page, 'Other links');
        await page.waitForSelector('[data-link]');
      },
    },
    run('run-copy', 'demo-told-short', '[data-binds]'),
    run('run-copies', 'demo-card-thrice', '[data-binds]'),
    {
      name: 'sheet-copy',
      path: '/copies',
      ready: '[data-binds]',
      act: opened('Copy now', 'Copy now'),
    },
    {
      name: 'sheet-verify',
      path: '/copies',
      ready: '[data-binds]',
      act: opened('Verify a hash list', 'Verify a hash list'),
    },
    {
      name: 'sheet-drive',
      path: '/drives',
      ready: '[data-run-levels]',
      act: opened('Edit card', 'Edit card'),
    },
    {
      name: 'sheet-settings',
      path: '/measure/runs/demo-petrel-take',
      ready: '[data-pass]',
      act: opened('Settings', 'Settings'),
    },
    {
      name: 'sheet-keys',
      path: '/measure/runs/demo-petrel-take',
      ready: '[data-pass]',
      act: opened('Keys and words', 'Keys and words'),
    },
    {
      name: 'sheet-recipe',
      path: '/measure/runs/demo-petrel-take',
      ready: '[data-pass]',
      act: async (page) => {
        await page.keyboard.press('o');
        await sheet('What to run')(page);
      },
    },
    {
      name: 'sheet-item',
      path: '/workloads',
      ready: '[data-item]',
      act: opened('Add footage', 'Add footage'),
    },
    {
      name: 'sheet-series',
      path: '/workloads',
      ready: '[data-item]',
      act: opened('Add cache series', 'Add cache series'),
    },
    {
      name: 'sheet-load',
      path: '/workloads',
      ready: '[data-item]',
      act: opened('Add load', 'Add load'),
    },
    // The last of all: its answer stands in its browser from then on.
    {
      name: 'measure-asked',
      path: '/measure?action=record&what=UHD+4%3A2%3A2+10+bit+25p+x2&length=10+min&takes=3&between=stay&gap=&buffer=1+s',
      ready: '[data-pass]',
      act: async (page) => {
        await press(page, 'Ask');
        await page.waitForSelector('[data-answer]');
      },
    },
  ];
}
