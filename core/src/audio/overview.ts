import type { Audio } from './audio';
import { frameCount } from './audio';

/** Peaks for drawing a waveform: per column the lowest and the highest sample of all channels. */
export interface Overview {
  /** Frames that one column stands for. */
  readonly framesPerColumn: number;
  /** Length of the audio in frames. */
  readonly frames: number;
  readonly low: Float32Array;
  readonly high: Float32Array;
}

/** Measures an overview with about `columns` columns (fewer when the audio has fewer frames). */
export function measureOverview(audio: Audio, columns = 1024): Overview {
  const frames = frameCount(audio);
  const framesPerColumn = Math.max(1, Math.ceil(frames / Math.max(1, columns)));
  const count = Math.ceil(frames / framesPerColumn);
  const low = new Float32Array(count);
  const high = new Float32Array(count);
  for (let column = 0; column < count; column++) {
    const start = column * framesPerColumn;
    const end = Math.min(frames, start + framesPerColumn);
    let least = Infinity;
    let most = -Infinity;
    for (const channel of audio.channels) {
      for (let i = start; i < end; i++) {
        const sample = channel[i]!;
        if (sample < least) least = sample;
        if (sample > most) most = sample;
      }
    }
    low[column] = least;
    high[column] = most;
  }
  return { framesPerColumn, frames, low, high };
}
