/** Writes the documents that follow from the code: the JSON Schemas of what is handed off, and the lists of effects and of patches. */
import { writeFileSync } from 'node:fs';
import { conductJsonSchema, manifestJsonSchema } from '../core/src/index';
import { effectsDocument } from './effects-document';
import { patchesDocument } from './patches-document';

const docs = new URL('../docs/', import.meta.url);
writeFileSync(new URL('manifest.schema.json', docs), `${JSON.stringify(manifestJsonSchema(), null, 2)}\n`);
writeFileSync(new URL('conduct.schema.json', docs), `${JSON.stringify(conductJsonSchema(), null, 2)}\n`);
writeFileSync(new URL('effects.md', docs), effectsDocument());
writeFileSync(new URL('patches.md', docs), patchesDocument());
