/** `npm run demo`: from a fresh clone to the demo project in the browser. */
import { installPackages } from './install.mjs';

installPackages();
const { buildAll } = await import('./build.mjs');
buildAll();
const { serve } = await import('./serve.mjs');
serve();
