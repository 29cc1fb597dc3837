import type { Frames } from '../units';

/** Delays channels by a fixed number of frames, so that paths of different latency meet in time. */
export class DelayLine {
  private readonly lines: readonly Float32Array[];
  private position: Frames = 0;

  constructor(
    private readonly frames: Frames,
    channels: number,
  ) {
    this.lines = Array.from({ length: channels }, () => new Float32Array(frames));
  }

  reset(): void {
    for (const line of this.lines) line.fill(0);
  }

  process(block: { readonly channels: readonly Float32Array[]; readonly frames: Frames }): void {
    if (this.frames === 0) return;
    let end = this.position;
    for (let c = 0; c < this.lines.length; c++) {
      const line = this.lines[c]!;
      const samples = block.channels[c]!;
      let position = this.position;
      for (let from = 0; from < block.frames;) {
        const to = Math.min(block.frames, from + this.frames - position);
        for (let i = from, n = position; i < to; i++, n++) {
          const late = line[n]!;
          line[n] = samples[i]!;
          samples[i] = late;
        }
        position += to - from;
        if (position === this.frames) position = 0;
        from = to;
      }
      end = position;
    }
    this.position = end;
  }
}
