import type { Sizing } from '#core/5-answers/sizing/project.ts';
import type { SizingReply, SizingRequest } from './sizing-worker.ts';

/**
 * The worker that searches. It lives on between searches, since what it worked out for the drives serves the next; a
 * search that still goes on is ended with it.
 */
export class SizingClient {
  private worker: Worker | null = null;
  private isBusy = false;
  private drives: Sizing['drives'] | null = null;

  /** @param onReply told of everything until the next search */
  search({ drives, ...sizing }: Sizing, onReply: (reply: SizingReply) => void): void {
    if (this.isBusy) this.end();
    this.worker ??= new Worker(new URL('./sizing-worker.ts', import.meta.url), { type: 'module' });
    this.worker.onmessage = ({ data }: MessageEvent<SizingReply>) => {
      if (data.kind === 'problem' || (data.kind === 'found' && data.found.share === 1)) this.isBusy = false;
      onReply(data);
    };
    // A worker that does not load or runs out of memory sends no message of its own.
    this.worker.onerror = (event) => {
      event.preventDefault();
      this.end();
      const why = event.message ? ` (${event.message})` : '';
      onReply({ kind: 'problem', detail: `The search broke off${why}. Change something, or load the page again.` });
    };
    this.isBusy = true;
    this.ask({ kind: 'search', sizing, drives: this.drives === drives ? null : drives });
    this.drives = drives;
  }

  ask(request: SizingRequest): void {
    this.worker?.postMessage(request);
  }

  end(): void {
    this.worker?.terminate();
    this.worker = null;
    this.drives = null;
    this.isBusy = false;
  }
}
