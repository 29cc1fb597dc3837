/** Writes the documents that follow from the code: the manifest's JSON Schema and the list of effects. */
import { writeFileSync } from 'node:fs';
import { manifestJsonSchema } from '../core/src/index';
import { effectsDocument } from './effects-document';

const docs = new URL('../docs/', import.meta.url);
writeFileSync(new URL('manifest.schema.json', docs), `${JSON.stringify(manifestJsonSchema(), null, 2)}\n`);
writeFileSync(new URL('effects.md', docs), effectsDocument());
