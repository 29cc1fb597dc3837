import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { conductJsonSchema, manifestJsonSchema } from '@tangled-choir/core';
import { effectsDocument } from '../../scripts/effects-document';
import { patchesDocument } from '../../scripts/patches-document';

const written = (name: string): string => readFileSync(join(__dirname, '../../docs', name), 'utf8');

/** Without what formatting adds: tables are made even, lines are joined by spaces. */
const plain = (markdown: string): string =>
  markdown
    .replace(/-{3,}/g, '---')
    .replace(/\s*\|\s*/g, '|')
    .replace(/\s+/g, ' ')
    .trim();

describe('what is written about the code (`npm run docs` renews it)', () => {
  it('lists every effect as it is', () => {
    expect(plain(written('effects.md'))).toBe(plain(effectsDocument()));
  });

  it('lists every part and every patch as they are', () => {
    expect(plain(written('patches.md'))).toBe(plain(patchesDocument()));
  });

  it('has the schema of the manifest', () => {
    expect(JSON.parse(written('manifest.schema.json'))).toEqual(JSON.parse(JSON.stringify(manifestJsonSchema())));
  });

  it('has the schema of conduct.json', () => {
    expect(JSON.parse(written('conduct.schema.json'))).toEqual(JSON.parse(JSON.stringify(conductJsonSchema())));
  });
});
