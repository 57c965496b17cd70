import { checkOptions, recipeKindById } from '#core/3-jobs/recipes/registry.ts';
import { FIRST_SETTINGS, type Settings, type SettingsChange } from '#core/6-exchange/archive/settings.ts';
import { api } from '../api/client.ts';
import { mayChange } from '../api/session.ts';
import { useContextStore, type Context } from './context.ts';
import { tellFailure, useLibrary } from './library.ts';

/** The part of what is chosen that belongs to the workspace and not to this browser. */
type Chosen = Pick<Context, 'headroomShare' | 'traceAxis' | 'recipeOptions'>;

/**
 * Settings of the workspace are chosen in the context, like all else; the server keeps them, so that archives and
 * backups hold them. What this browser had chosen before the server kept any goes there.
 * @returns ends it
 */
export function followSettings(): () => void {
  let unsent: SettingsChange = {};
  let isSending = false;
  let isTaking = false;

  const send = async (): Promise<void> => {
    if (isSending) return;
    isSending = true;
    try {
      // What is chosen meanwhile, as while a handle is drawn, goes with the next.
      while (Object.keys(unsent).length > 0) {
        const change = unsent;
        unsent = {};
        await api.changeSettings(change);
      }
    } catch (error) {
      tellFailure(error);
    }
    isSending = false;
  };
  const choose = (change: SettingsChange): void => {
    // Who looks on chooses for this browser alone.
    if (!mayChange()) return;
    const recipeOptions = { ...unsent.recipeOptions, ...change.recipeOptions };
    unsent = { ...unsent, ...change, ...(Object.keys(recipeOptions).length > 0 ? { recipeOptions } : {}) };
    void send();
  };
  const take = ({ headroomShare, traceAxis, recipeOptions }: Settings): void => {
    const { set, recipeOptions: here } = useContextStore.getState();
    isTaking = true;
    set({ headroomShare, traceAxis, recipeOptions: { ...here, ...recipeOptions } });
    isTaking = false;
  };

  const { settings } = useLibrary.getState();
  if (settings) take(settings);
  else choose(changeBetween(FIRST_SETTINGS, useContextStore.getState()));
  const leave = [
    useLibrary.subscribe((now, before) => {
      if (now.settings && now.settings !== before.settings && !isSending) take(now.settings);
    }),
    useContextStore.subscribe((now, before) => {
      if (!isTaking) choose(changeBetween(before, now));
    }),
  ];
  return () => leave.forEach((end) => end());
}

function changeBetween(before: Chosen, now: Chosen): SettingsChange {
  const recipeOptions = Object.fromEntries(
    Object.entries(now.recipeOptions).filter(
      ([id, options]) => options !== before.recipeOptions[id] && isUsable(id, options),
    ),
  );
  return {
    ...(now.headroomShare === before.headroomShare ? {} : { headroomShare: now.headroomShare }),
    ...(now.traceAxis === before.traceAxis ? {} : { traceAxis: now.traceAxis }),
    ...(Object.keys(recipeOptions).length > 0 ? { recipeOptions } : {}),
  };
}

/** Options that an earlier version left in this browser may be none any more. */
function isUsable(recipeId: string, options: object): boolean {
  try {
    return checkOptions(recipeKindById(recipeId), options) !== undefined;
  } catch {
    return false;
  }
}
