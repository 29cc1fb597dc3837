/**
 * The ring where the engine's worker and the worklet can share no memory, because the page is not isolated: each has one of its own. What is written into
 * the one is sent to the other, which tells how far it has played.
 */
import { ringCapacity, ringSlots } from './ring';

const mask = ringCapacity - 1;

/** What was written since the last piece, and whether it is to be played. */
export interface RingPiece {
  readonly written: number;
  readonly playing: number;
  readonly discards: number;
  readonly discardTo: number;
  /** The last frames before `written`, channel after channel. */
  readonly samples: Float32Array<ArrayBuffer>;
}

/** How far the worklet has come. */
export interface RingProgress {
  readonly read: number;
  readonly underruns: number;
  readonly sounded: number;
  readonly outputPeak: number;
}

/** What the worklet is given first: a port to the engine. */
export interface EnginePort {
  readonly engine: MessagePort;
}

/** The engine's end: sends what its ring has got since the last time. */
export class RingSender {
  private sent = 0;
  private playing = 0;
  private discards = 0;

  constructor(
    private readonly samples: Float32Array,
    private readonly control: Int32Array,
    private readonly post: (piece: RingPiece) => void,
  ) {}

  send(): void {
    const { control, samples, sent } = this;
    const written = control[ringSlots.written]!;
    const playing = control[ringSlots.playing]!;
    const discards = control[ringSlots.discards]!;
    if (written === sent && playing === this.playing && discards === this.discards) return;
    const frames = Math.min(ringCapacity, (written - sent) | 0);
    const channels = samples.length / ringCapacity;
    const piece = new Float32Array(frames * channels);
    for (let c = 0; c < channels; c++)
      for (let i = 0; i < frames; i++) piece[c * frames + i] = samples[c * ringCapacity + ((written - frames + i) & mask)]!;
    this.sent = written;
    this.playing = playing;
    this.discards = discards;
    this.post({ written, playing, discards, discardTo: control[ringSlots.discardTo]!, samples: piece });
  }
}

/** The worklet's end: puts a piece into its ring. */
export function takePiece(ring: Float32Array, control: Int32Array, { written, playing, discards, discardTo, samples }: RingPiece): void {
  const channels = ring.length / ringCapacity;
  const frames = samples.length / channels;
  for (let c = 0; c < channels; c++)
    for (let i = 0; i < frames; i++) ring[c * ringCapacity + ((written - frames + i) & mask)] = samples[c * frames + i]!;
  control[ringSlots.written] = written;
  control[ringSlots.playing] = playing;
  control[ringSlots.discardTo] = discardTo;
  control[ringSlots.discards] = discards;
}

/** What the worklet has to tell; the peak begins anew. */
export function progressOf(control: Int32Array): RingProgress {
  const progress = {
    read: control[ringSlots.read]!,
    underruns: control[ringSlots.underruns]!,
    sounded: control[ringSlots.sounded]!,
    outputPeak: control[ringSlots.outputPeak]!,
  };
  control[ringSlots.outputPeak] = 0;
  return progress;
}

/** Takes over how far the worklet has come; a peak stays until somebody has looked at it. */
export function takeProgress(control: Int32Array, { read, underruns, sounded, outputPeak }: RingProgress): void {
  control[ringSlots.read] = read;
  control[ringSlots.underruns] = underruns;
  control[ringSlots.sounded] = sounded;
  control[ringSlots.outputPeak] = Math.max(control[ringSlots.outputPeak]!, outputPeak);
}
