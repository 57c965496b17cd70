import { create } from 'zustand';
import type { ActiveRun, LiveMessage } from '#core/6-exchange/api/wire.ts';
import { listen } from '../api/feed.ts';
import { refresh } from './library.ts';

/** Runs that go on or wait, from the server's live feed. */
interface Live {
  active: ActiveRun[];
  connected: boolean;
}

export const useLive = create<Live>()(() => ({ active: [], connected: true }));

/** Follows the live feed for as long as the page is open. */
export function followLiveFeed(): () => void {
  let wasConnected = false;
  // What ended while the page was hidden was not heard: the list of runs is asked for again on coming back.
  return listen<LiveMessage>(
    '/live',
    (messages) => {
      // One change for all that came together: every change draws the page anew.
      const before = useLive.getState().active;
      let active = before;
      for (const message of messages) {
        if (message.type === 'active') active = message.active;
        if (message.type === 'progress') {
          active = active.map((run) => (run.runId === message.runId ? { ...run, progress: message.progress } : run));
        }
        if (message.type === 'event' && message.event.type === 'ended') void refresh('runs', 'drives', 'volumes');
      }
      if (active !== before) useLive.setState({ active });
    },
    (connected) => {
      useLive.setState({ connected });
      // The page has just loaded all lists; only a run may have ended before this feed told of it.
      if (connected) void (wasConnected ? refresh() : refresh('runs'));
      wasConnected ||= connected;
    },
  );
}
