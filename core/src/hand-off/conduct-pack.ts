import type { Audio } from '../audio/audio';
import { createRandom, seedOf } from '../dsp/random';
import { safeFileName } from '../formats/file-name';
import { hashBytes } from '../formats/hash';
import { frameBytes, writeWav } from '../formats/wav/wav-write';
import type { Encoding, Project } from '../project/schema';
import type { ConductAssetFile } from './conduct-file';
import { conductFile } from './conduct-file';
import type { WantedTake } from './conduct-takes';
import { conductData } from './conduct-takes';

/** Bytes of a take in the files for a game, without what stands around its samples: at the project's rate, in as many channels as it has. */
export const takeBytes = ({ channels }: { readonly channels: readonly Float32Array[] }, encoding: Encoding): number =>
  (channels[0]?.length ?? 0) * frameBytes({ encoding, channelCount: channels.length });

/** The depth of recordings for a game: what the first delivery of behaviours asks for. */
export function conductEncoding({ deliveries }: Pick<Project, 'deliveries'>): Encoding {
  return deliveries.find(({ content }) => content === 'behaviours')?.encoding ?? '24';
}

/** A take without the sound that it is rendered from, for who only writes it. */
export type PackedTake = Pick<WantedTake, 'asset' | 'sibling' | 'loops'> & { readonly of: { readonly id: string; readonly name: string } };

/**
 * What a game takes: `conduct.json`, and every recording that behaviours play as a WAV file at the project's rate, by name; loops
 * carry their `smpl`. Throws Error where a recording is missing: a game would miss it, too.
 */
export function packConduct(
  project: Project,
  wanted: readonly PackedTake[],
  assets: ReadonlyMap<string, Audio>,
  encoding: Encoding = conductEncoding(project),
): Record<string, Uint8Array<ArrayBuffer>> {
  const files: Record<string, Uint8Array<ArrayBuffer>> = {};
  const entries: Record<string, ConductAssetFile> = {};
  const names = fileNames(wanted);
  for (const { asset, loops, of } of wanted) {
    const audio = assets.get(asset);
    if (!audio) throw new Error(`“${of.name}” is not rendered yet.`);
    const frames = audio.channels[0]!.length;
    const dither = encoding === '32f' ? {} : { dither: createRandom(seedOf('dither', asset)) };
    const wav = writeWav(audio, { encoding, ...dither, ...(loops && { loop: { from: 0, to: frames } }) });
    const file = names.get(asset)!;
    files[file] = wav;
    entries[asset] = { file, bytes: wav.length, channels: audio.channels.length, sha256: hashBytes(wav) };
  }
  const frames = new Map([...assets].map(([asset, { channels }]) => [asset, channels[0]!.length]));
  const json = conductFile(conductData(project, wanted, frames), entries);
  return { 'conduct.json': new TextEncoder().encode(`${JSON.stringify(json, null, 1)}\n`), ...files };
}

/** Letters, digits and dashes: what every server and every engine reads as it stands. */
const plainName = (name: string): string =>
  safeFileName(name)
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-|-$/g, '') || 'sound';

/** `Snow-step_03.wav`; two sounds of one name are told apart by their ids. Letters of both cases count as the same, as they do on many discs. */
function fileNames(wanted: readonly PackedTake[]): ReadonlyMap<string, string> {
  const ids = new Map<string, Set<string>>();
  for (const { of } of wanted) {
    const key = plainName(of.name).toLowerCase();
    ids.set(key, (ids.get(key) ?? new Set()).add(of.id));
  }
  return new Map(
    wanted.map(({ asset, of, sibling }) => {
      const name = plainName(of.name);
      const own = ids.get(name.toLowerCase())!.size > 1 ? `${name}_${of.id}` : name;
      return [asset, `${own}${sibling === undefined ? '' : `_${String(sibling + 1).padStart(2, '0')}`}.wav`];
    }),
  );
}
