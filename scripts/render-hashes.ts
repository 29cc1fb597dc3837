/**
 * `npm run hashes`: a hash of every render of the demo project and of every effect, to compare two states of the code with. What a change of
 * structure must not touch is equal before and after it; the numbers themselves mean nothing, and differ between engines.
 */
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import type { Audio, Branch, EffectStep } from '../core/src/index';
import {
  applyChain,
  createRandom,
  effectCatalogue,
  effects,
  readWav,
  renderContext,
  renderSound,
  siblingSound,
  unpackArchive,
} from '../core/src/index';

function hashOf({ channels }: Audio): string {
  const hash = createHash('sha256');
  for (const channel of channels) hash.update(new Uint8Array(channel.buffer, channel.byteOffset, channel.byteLength));
  return hash.digest('hex').slice(0, 16);
}

const file = process.argv[2] ?? 'dist/halda-station.choir';
const { project, audio } = await unpackArchive(new Uint8Array(readFileSync(file)), effectCatalogue, file);
const context = renderContext(project, new Map([...audio].map(([hash, wav]) => [hash, readWav(wav, hash).audio])));
for (const sound of project.sounds) {
  for (const tail of ['ring out', 'cut at the last clip'] as const)
    console.log(`${hashOf(renderSound(sound, context, { tail }))}  ${sound.name}, ${tail}`);
  sound.family.siblings.forEach((_, index) => {
    const sibling = siblingSound(sound, index, effectCatalogue);
    console.log(`${hashOf(renderSound(sibling, context, { tail: 'ring out' }))}  ${sound.name}, sibling ${index + 1}`);
  });
}

const random = createRandom(7);
const noise = (): Float32Array => Float32Array.from({ length: 24_000 }, () => random.next() - 0.5);
const impulse = { sampleRate: 48_000, channels: [noise().subarray(0, 4_800), noise().subarray(0, 4_800)] };
const emptyBranch = { name: '', gain: 0, pan: 0, delay: 0, muted: false, soloed: false, chain: [] };
for (const channels of [[noise()], [noise(), noise()]])
  for (const { id, host, presets } of effects)
    for (const preset of [undefined, ...presets]) {
      const branches = Array.from({ length: host?.first ?? 0 }, (_, b): Branch => ({ ...emptyBranch, id: `branch-${b}` }));
      const parameters = { ...preset?.values, ...(id === 'convolution' && { response: 'source/impulse' }) };
      const chain: EffectStep[] = [{ id: 'a', effect: id, enabled: true, mix: 0.9, parameters, ...(host && { branches }) }];
      const output = applyChain({ sampleRate: 48_000, channels }, chain, { tail: true, source: () => impulse });
      console.log(`${hashOf(output)}  ${id}, ${preset?.name ?? 'as it is'}, ${channels.length}`);
    }
