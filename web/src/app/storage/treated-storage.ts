import { inject, Injectable } from '@angular/core';
import type { Audio } from '@tangled-choir/core';
import { frameCount, hashText, prepareHashing, treatmentVersion } from '@tangled-choir/core';
import { CHOIR_DATABASE } from './choir-database';
import { StorageFull, storing } from './storage-full';
import { storageUse } from './storage-use';

/** So many bytes are kept, or this share of all that the browser gives, where that is less. */
const mostBytes = 1e9;
const mostShare = 0.2;

/** Treated clips in the browser's database, so that what took long need not be made again after a reload. Nothing that is kept here is missed when it goes. */
@Injectable({ providedIn: 'root' })
export class TreatedStorage {
  private readonly database = inject(CHOIR_DATABASE);

  /** What was made under a key (see `treatmentKey`), if it is still there. */
  async load(key: string): Promise<Audio | undefined> {
    const { treated } = this.database;
    const stored = await treated.get(await nameOf(key));
    if (!stored) return undefined;
    const { sampleRate, channels, samples } = stored;
    const frames = samples.size / channels / Float32Array.BYTES_PER_ELEMENT;
    // Cut short or empty, it is of no use.
    if (!Number.isInteger(frames) || frames === 0) {
      await treated.delete(stored.key);
      return undefined;
    }
    await treated.update(stored.key, { used: Date.now() });
    const all = new Float32Array(await samples.arrayBuffer());
    return { sampleRate, channels: Array.from({ length: channels }, (_, c) => all.subarray(c * frames, (c + 1) * frames)) };
  }

  /** Keeps what was made under a key, in the place of what was not needed for the longest time. Where there is no room, nothing is kept. */
  async save(key: string, audio: Audio): Promise<void> {
    const bytes = frameCount(audio) * audio.channels.length * Float32Array.BYTES_PER_ELEMENT;
    const most = Math.min(mostBytes, mostShare * ((await storageUse())?.available ?? Infinity));
    if (bytes === 0 || bytes > most) return;
    await this.trimTo(most - bytes);
    // Blobs are not made of shared memory.
    const samples = new Blob(audio.channels.map((channel) => new Float32Array(channel)));
    const row = { key: await nameOf(key), used: Date.now(), sampleRate: audio.sampleRate, channels: audio.channels.length, samples };
    try {
      await storing(this.database.treated.put(row));
    } catch (error) {
      if (!(error instanceof StorageFull)) throw error;
      // What could not be kept will be made again; room is left for what cannot.
      await this.clear();
    }
  }

  /** Drops all of it; returns how many there were. */
  async clear(): Promise<number> {
    const { treated } = this.database;
    const count = await treated.count();
    await treated.clear();
    return count;
  }

  private async trimTo(most: number): Promise<void> {
    const { treated } = this.database;
    let bytes = 0;
    const gone: string[] = [];
    await treated
      .orderBy('used')
      .reverse()
      .each(({ key, samples }) => {
        bytes += samples.size;
        if (bytes > most) gone.push(key);
      });
    await treated.bulkDelete(gone);
  }
}

async function nameOf(key: string): Promise<string> {
  await prepareHashing();
  return hashText(`${treatmentVersion} ${key}`);
}
