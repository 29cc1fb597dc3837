import type { Frames } from '../units';
import type { Audio } from './audio';
import { frameCount } from './audio';
import type { Recording } from './recording';
import { piecesOf } from './recording';

/** Peaks for drawing a waveform: per column the lowest and the highest sample of all channels. */
export interface Overview {
  /** Frames that one column stands for. */
  readonly framesPerColumn: Frames;
  /** Length of the audio in frames. */
  readonly frames: Frames;
  readonly low: Float32Array;
  readonly high: Float32Array;
}

/**
 * Columns at least: hundreds of clips are drawn while one scrolls, and each looks at all that it shows. And frames that a column of a long
 * recording stands for at most: a twentieth of a second at 48 kHz.
 */
const leastColumns = 1_600;
const mostFramesPerColumn: Frames = 2_400;

/**
 * Measures an overview with about `columns` columns (fewer when the audio has fewer frames); by default with as many as can be told apart
 * on a screen, and in a long recording with so many that a few seconds of it can be drawn.
 */
export function measureOverview(audio: Audio, columns?: number): Overview {
  const meter = new OverviewMeter(frameCount(audio), columns);
  meter.process(audio.channels);
  return meter.overview;
}

/** Frames that are read at once. */
const pieceFrames: Frames = 2 ** 18;

/** `measureOverview` for a recording that is read piece by piece. */
export async function readOverview(recording: Recording): Promise<Overview> {
  const meter = new OverviewMeter(recording.frames);
  for await (const { channels } of piecesOf(recording, pieceFrames)) meter.process(channels);
  return meter.overview;
}

/** Measures an overview of a recording that comes piece by piece. */
export class OverviewMeter {
  private readonly framesPerColumn: Frames;
  private low: Float32Array;
  private high: Float32Array;
  private frames: Frames = 0;

  /** @param expected frames that will probably come; more or fewer are no harm */
  constructor(expected: Frames, columns = Math.max(leastColumns, Math.ceil(expected / mostFramesPerColumn))) {
    this.framesPerColumn = Math.max(1, Math.ceil(expected / Math.max(1, columns)));
    const count = Math.ceil(expected / this.framesPerColumn);
    this.low = new Float32Array(count);
    this.high = new Float32Array(count);
  }

  process(piece: readonly Float32Array[]): void {
    const count = piece[0]?.length ?? 0;
    this.reserve(Math.ceil((this.frames + count) / this.framesPerColumn));
    for (let done = 0; done < count;) {
      const column = Math.floor((this.frames + done) / this.framesPerColumn);
      const begun = (this.frames + done) % this.framesPerColumn > 0;
      const end = Math.min(count, (column + 1) * this.framesPerColumn - this.frames);
      let least = begun ? this.low[column]! : Infinity;
      let most = begun ? this.high[column]! : -Infinity;
      for (const channel of piece) {
        for (let i = done; i < end; i++) {
          const sample = channel[i]!;
          if (sample < least) least = sample;
          if (sample > most) most = sample;
        }
      }
      this.low[column] = least;
      this.high[column] = most;
      done = end;
    }
    this.frames += count;
  }

  /** Of what came so far. */
  get overview(): Overview {
    const { framesPerColumn, frames } = this;
    const count = Math.ceil(frames / framesPerColumn);
    return { framesPerColumn, frames, low: this.low.slice(0, count), high: this.high.slice(0, count) };
  }

  private reserve(columns: number): void {
    if (columns <= this.low.length) return;
    const grown = (old: Float32Array): Float32Array => {
      const larger = new Float32Array(Math.max(columns, 2 * old.length));
      larger.set(old);
      return larger;
    };
    this.low = grown(this.low);
    this.high = grown(this.high);
  }
}
