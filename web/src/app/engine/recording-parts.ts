import type { Frames, Need } from '@tangled-choir/core';
import { frameCount } from '@tangled-choir/core';
import type { FrameRange, SharedAudio } from '@tangled-choir/jobs';

/** Frames that are loaded at a time, at least. */
const partFrames: Frames = 2 ** 18;

/**
 * The samples of a recording as far as they are loaded. They lie in shared memory of the recording's full length, of which a system gives
 * out only what is written to: so an hour of which ten seconds are used takes the room of ten seconds.
 */
export class RecordingParts {
  private readonly loaded: Uint8Array;
  private count = 0;

  constructor(readonly audio: SharedAudio) {
    this.loaded = new Uint8Array(Math.ceil(frameCount(audio) / partFrames));
  }

  /** Room that the loaded samples take. */
  get bytes(): number {
    return this.count * partFrames * this.audio.channels.length * Float32Array.BYTES_PER_ELEMENT;
  }

  has(need: Need): boolean {
    return this.missing(need).length === 0;
  }

  /** What of a need is not loaded, in whole parts. */
  missing(need: Need): FrameRange[] {
    if (this.count === this.loaded.length) return [];
    const wanted = need === 'all' ? [{ from: 0, to: this.loaded.length }] : need.map((stretch) => this.partsOf(stretch));
    const ranges: FrameRange[] = [];
    for (const { from, to } of wanted.sort((a, b) => a.from - b.from))
      for (let part = Math.max(from, (ranges.at(-1)?.to ?? 0) / partFrames); part < to; part++) {
        if (this.loaded[part]) continue;
        const last = ranges.at(-1);
        if (last && last.to === part * partFrames) ranges[ranges.length - 1] = { ...last, to: last.to + partFrames };
        else ranges.push({ from: part * partFrames, to: (part + 1) * partFrames });
      }
    const end = frameCount(this.audio);
    return ranges.map(({ from, to }) => ({ from, to: Math.min(end, to) }));
  }

  /** Notes that ranges of whole parts were loaded. */
  add(ranges: readonly FrameRange[]): void {
    for (const { from, to } of ranges)
      for (let part = from / partFrames; part * partFrames < to; part++) {
        if (!this.loaded[part]) this.count++;
        this.loaded[part] = 1;
      }
  }

  private partsOf({ from, to }: { readonly from: number; readonly to: number }): FrameRange {
    const { sampleRate } = this.audio;
    return {
      from: Math.min(this.loaded.length, Math.max(0, Math.floor((from * sampleRate) / partFrames))),
      to: Math.min(this.loaded.length, Math.ceil((to * sampleRate) / partFrames)),
    };
  }
}
