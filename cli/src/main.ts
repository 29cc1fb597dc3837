import { prepareHashing } from '@tangled-choir/core';
import { run } from './run';

await prepareHashing();
process.exitCode = await run(process.argv.slice(2));
