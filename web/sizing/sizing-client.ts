import { proxy } from 'comlink';
import type { Sizing } from '#core/5-answers/sizing/project.ts';
import type { StoreId } from '#core/5-answers/sizing/stores.ts';
import { remoteWorker, type RemoteWorker } from '../kit/remote.ts';
import type { Outlook, ShownBuild, SizingFound, SizingWorker } from './sizing-worker.ts';

/**
 * The worker that searches. It lives on between searches, since what it worked out for the drives serves the next; a
 * search that still goes on is ended with it.
 */
export class SizingClient {
  private remote: RemoteWorker<SizingWorker> | null = null;
  private isBusy = false;
  private drives: Sizing['drives'] | null = null;

  /** Rejects with a sentence; `onFound` hears of everything until the next search. */
  async search({ drives, ...sizing }: Sizing, onFound: (found: SizingFound) => void): Promise<void> {
    if (this.isBusy) this.end();
    this.remote ??= remoteWorker(new Worker(new URL('./sizing-worker.ts', import.meta.url), { type: 'module' }));
    const { call, unlessItFails } = this.remote;
    const known = this.drives === drives ? null : drives;
    this.drives = drives;
    this.isBusy = true;
    try {
      await unlessItFails(call.search(sizing, known, proxy(onFound)));
      this.isBusy = false;
    } catch (error) {
      this.end();
      throw error;
    }
  }

  /** What follows from the search; ended with it by the next one. Undefined where none was done. */
  async outlook(): Promise<Outlook | undefined> {
    if (!this.remote) return undefined;
    this.isBusy = true;
    const { call, unlessItFails } = this.remote;
    const outlook = await unlessItFails(call.outlook());
    this.isBusy = false;
    return outlook;
  }

  /** Builds that the search did not explain; none before one was done. */
  explain(store: StoreId, codes: string[]): Promise<ShownBuild[]> {
    return this.remote?.call.explain(store, codes) ?? Promise.resolve([]);
  }

  /** The efficient builds of all stores as a table. */
  csv(): Promise<string> {
    return this.remote?.call.csv() ?? Promise.resolve('');
  }

  end(): void {
    this.remote?.end();
    this.remote = null;
    this.drives = null;
    this.isBusy = false;
  }
}
