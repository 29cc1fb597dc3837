import { frameBytes } from '../formats/wav/wav-write';
import type { Delivery, Project } from '../project/schema';
import type { Frames } from '../units';
import type { ConductAssetFile, ConductFile } from './conduct-file';
import { conductFile } from './conduct-file';
import { conductData } from './conduct-takes';
import { formOf, isLossless } from './form';
import type { ManifestFile } from './manifest';
import type { DeliveryItem } from './plan';

/**
 * Bytes of a recording in the files for a game, without what stands around its samples. FLAC counts as if it were not packed, because what that saves is
 * known only when it is written.
 */
export function takeBytes(
  { frames, sampleRate, channels }: { frames: Frames; sampleRate: number; channels: number },
  delivery: Delivery,
): number {
  const form = formOf(delivery);
  const channelCount = delivery.channels === 'mono' ? 1 : Math.min(2, channels);
  const seconds = frames / sampleRate;
  if (!isLossless(form.format)) return Math.round((seconds * delivery.bitrate * channelCount * 1_000) / 8);
  return Math.round(seconds * form.sampleRate) * frameBytes({ encoding: form.encoding, channelCount });
}

/** What a game takes beside its recordings: the contents of `conduct.json`, once all of them are written. */
export function conductJson(
  project: Pick<Project, 'conduct' | 'sampleRate'>,
  delivery: Delivery,
  made: readonly { readonly item: DeliveryItem; readonly entry: ManifestFile }[],
): ConductFile {
  const files: Record<string, ConductAssetFile> = {};
  for (const { item, entry } of made)
    files[item.key] = { file: item.file, bytes: entry.bytes, channels: entry.channels, sha256: entry.sha256 };
  const wanted = made.map(({ item: { key, of, sibling, loops } }) => ({ asset: key, of, sibling, loops: loops !== undefined }));
  const frames = new Map(made.map(({ item, entry }) => [item.key, entry.frames]));
  return conductFile(conductData(project, wanted, frames, formOf(delivery).sampleRate), files);
}
