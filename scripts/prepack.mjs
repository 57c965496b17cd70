// npm pack: what goes into the package is built from the sources as they are now.
import { prepare } from './prepare.mjs';

await prepare();
