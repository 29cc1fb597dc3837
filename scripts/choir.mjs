/** `npm run choir`: the command line as it was built, built anew when the code has changed. */
import { buildCommandLine } from './build.mjs';

buildCommandLine();
await import('../cli/dist/choir.mjs');
