import type { Ask } from '#engine/system/macos/volumes.ts';

/**
 * The same answers until something is mounted or goes: system_profiler takes seconds, and volumes are asked about often.
 * What was not answered is asked again. `mount` itself is asked each time, before the others.
 */
export function heldUntilMountsChange(ask: Ask): Ask {
  const held = new Map<string, Promise<string>>();
  let mounts = '';
  return async (program, ...args) => {
    if (program === 'mount') {
      const now = await ask(program, ...args);
      if (now !== mounts) held.clear();
      mounts = now;
      return now;
    }
    const key = JSON.stringify([program, ...args]);
    const answer = held.get(key) ?? ask(program, ...args);
    held.set(key, answer);
    if ((await answer) === '' && held.get(key) === answer) held.delete(key);
    return answer;
  };
}
