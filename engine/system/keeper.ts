import { spawn } from 'node:child_process';

/** A program of the system that keeps it awake for as long as it runs; without it the machine may sleep, and the run shows the gap. */
export function keepAwakeBy(program: string, args: readonly string[]): () => void {
  const child = spawn(program, args, { stdio: 'ignore' });
  child.on('error', () => undefined);
  child.unref();
  return () => child.kill();
}
