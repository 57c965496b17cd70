import { reportError } from '#cli/output.ts';
import { createProgram } from '#cli/program.ts';

/** Runs a command line and returns its exit code: 0, 1 for a failed run, 2 for bad input, 3 and 4 as commands say. */
export async function main(argv: readonly string[]): Promise<number> {
  const program = createProgram();
  // Whoever reads the output may have enough of it, as head does.
  process.stdout.on('error', (error: NodeJS.ErrnoException) => {
    if (error.code === 'EPIPE') process.exit(0);
    // A terminal that was closed takes no more; the work is ended by its signal.
    if (error.code !== 'EIO') throw error;
  });
  process.stderr.on('error', () => undefined);
  try {
    await program.parseAsync(argv);
    return typeof process.exitCode === 'number' ? process.exitCode : 0;
  } catch (error) {
    return reportError(error);
  }
}
