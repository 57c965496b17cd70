import type { RunListEntry } from '#core/6-exchange/api/wire.ts';
import { NEW_FOOTAGE, readFootage } from '#core/3-jobs/demand/footage/footage-form.ts';
import { type FootageItem } from '#core/3-jobs/demand/footage/footage-item.ts';
import { WORKLOAD_VERSION } from '#core/3-jobs/demand/workload.ts';
import { callApi, startApp, type App } from '../support/app.ts';

/** A name as people give it who name things after everything they are: sixty characters. */
export const LONG_NAME = 'Second unit, camera B, night exteriors at the harbour, reel 7';
const SLOW_DRIVE = 'stand-in-anchor-16t';
const FOUR_HOURS_BYTES = 3.2e12;

/** What the screens are looked at with beside the demo workspace. */
export interface Workspace {
  app: App;
  fourHours: string;
  failed: string;
}

function itemOf(id: string, name: string, format: string): FootageItem {
  const texts = { ...NEW_FOOTAGE.texts, format, name, takes: '3' };
  const { item, errors } = readFootage({ ...NEW_FOOTAGE, texts }, id);
  if (!item) throw new Error(Object.values(errors).join(' '));
  return item;
}

const RATES = [24, 25, 30, 50, 60];
const SIZES = ['HD', '2048x1080', 'UHD', '4096x2160'];
const manyItems = (): FootageItem[] =>
  Array.from({ length: 40 }, (_, index) =>
    itemOf(
      `item-${index}`,
      index % 3 === 0 ? `${LONG_NAME.slice(0, 56)} ${index}` : `Angle ${index}`,
      `${SIZES[index % SIZES.length]} 4:2:2 10 bit ${RATES[index % RATES.length]}p`,
    ),
  );

async function keepWorkload(app: App, id: string, name: string, items: FootageItem[]): Promise<void> {
  const workload = { tavrox: WORKLOAD_VERSION, id, name, note: '', example: false, items };
  const { status } = await callApi(app, 'PUT', `/workloads/${id}`, workload);
  if (status !== 204) throw new Error(`The workload ${id} was not kept.`);
}

/** Runs a recipe on a stand-in to its end. */
async function ended(app: App, volumeId: string, recipeId: string, options: object): Promise<string> {
  const start = await callApi(app, 'POST', '/runs', { volumeId, folder: '', recipeId, options });
  if (start.status !== 201) throw new Error(JSON.stringify(start.document));
  const { id } = start.document as { id: string };
  for (;;) {
    // Each look reads all of a run that still goes on: not too often, and not the run itself, which is its whole trace.
    const list = (await callApi(app, 'GET', '/runs')).document as RunListEntry[];
    if (list.some(({ run }) => run.id === id && !['queued', 'running'].includes(run.state))) return id;
    await new Promise((resolve) => setTimeout(resolve, 1500));
  }
}

/** The demo workspace with one item, forty items, a run of four hours and one that failed beside it. */
export async function startWorkspace(): Promise<Workspace> {
  const app = await startApp({ standInSpeed: 1e6 });
  await keepWorkload(app, 'one', 'One item', [itemOf('only', 'Only angle', 'UHD 4:2:2 10 bit 25p')]);
  await keepWorkload(app, 'forty', LONG_NAME, manyItems());
  const fourHours = await ended(app, SLOW_DRIVE, 'long-fill', {
    amountBytes: FOUR_HOURS_BYTES,
    untilFloor: false,
  });
  await callApi(app, 'PUT', `/stand-ins/limpet-1t/faults`, { faults: [{ kind: 'unplugged', at: 12 }] });
  const failed = await ended(app, 'stand-in-limpet-1t', 'long-fill', { amountBytes: 100e9 });
  await callApi(app, 'PUT', `/stand-ins/limpet-1t/faults`, { faults: [] });
  return { app, fourHours, failed };
}
