import type { SharedAudio } from '@tangled-choir/jobs';
import type { Seconds } from '@tangled-choir/core';
import { Injectable, signal } from '@angular/core';
import workletAddress from '../../../generated/recorder.processor.js' with { loader: 'file' };
import type { RecordedBlock } from './recorded-block';

const sampleRate = 48_000;
/** An hour; what is longer is better recorded in parts. */
const longestSeconds = 3_600;

export interface Microphone {
  readonly id: string;
  readonly label: string;
}

/** What was recorded, and how much of it the machine lost. */
export interface Take {
  readonly audio: SharedAudio;
  readonly droppedFrames: number;
  /** Where on the time axis its first frame belongs, where it was recorded along with something that played. */
  readonly startedAt?: Seconds;
}

/** Blocks in which the take is aligned to what plays: later ones only bring more of the same jitter. */
const alignedBlocks = 40;

/** Joins blocks into one recording; where frames are missing between them there is silence of the same length. */
export function joinBlocks(blocks: readonly RecordedBlock[], rate: number): Take {
  const first = blocks[0];
  const last = blocks.at(-1);
  if (!first || !last) return { audio: { sampleRate: rate, channels: [new Float32Array(0)] }, droppedFrames: 0 };
  const frames = last.frame + last.channels[0]!.length - first.frame;
  const count = Math.max(...blocks.map((block) => block.channels.length));
  const channels = Array.from({ length: count }, () => new Float32Array(frames));
  let expected = first.frame;
  let droppedFrames = 0;
  for (const block of blocks) {
    droppedFrames += Math.max(0, block.frame - expected);
    channels.forEach((channel, c) => channel.set(block.channels[c] ?? block.channels[0]!, block.frame - first.frame));
    expected = block.frame + block.channels[0]!.length;
  }
  return { audio: { sampleRate: rate, channels }, droppedFrames };
}

/** Records from a microphone, without the browser's echo cancelling, noise suppression or levelling. */
@Injectable()
export class Recorder {
  readonly microphones = signal<readonly Microphone[]>([]);
  readonly listening = signal(false);
  readonly recording = signal(false);
  /** Peak of what came in lately, linear. */
  readonly level = signal(0);
  readonly seconds = signal(0);
  readonly droppedFrames = signal(0);
  private context: AudioContext | undefined;
  private stream: MediaStream | undefined;
  private blocks: RecordedBlock[] = [];
  /** Tells what is heard of the sound that plays along. */
  private playing: (() => Seconds | undefined) | undefined;
  private startedAt: Seconds | undefined;
  private lastHeard: Seconds | undefined;

  /** Opens a microphone and shows its level. Rejects with a sentence about why it could not be opened. */
  async open(id?: string): Promise<void> {
    this.close();
    try {
      this.stream = await navigator.mediaDevices.getUserMedia({
        audio: { ...(id && { deviceId: { exact: id } }), echoCancellation: false, noiseSuppression: false, autoGainControl: false },
      });
    } catch (error) {
      throw new Error(refusal(error), { cause: error });
    }
    const devices = await navigator.mediaDevices.enumerateDevices();
    this.microphones.set(
      devices
        .filter((device) => device.kind === 'audioinput')
        .map((device, i) => ({ id: device.deviceId, label: device.label || `Microphone ${i + 1}` })),
    );
    const context = new AudioContext({ sampleRate });
    await context.audioWorklet.addModule(workletAddress);
    const node = new AudioWorkletNode(context, 'choir-recorder', { numberOfOutputs: 0 });
    node.port.onmessage = ({ data }: MessageEvent<RecordedBlock>) => this.receive(data);
    context.createMediaStreamSource(this.stream).connect(node);
    await context.resume();
    this.context = context;
    this.listening.set(true);
  }

  /** Begins a take; `playing` tells the moment of the time axis that is heard, once something is. */
  start(playing?: () => Seconds | undefined): void {
    this.blocks = [];
    this.playing = playing;
    this.startedAt = this.lastHeard = undefined;
    this.droppedFrames.set(0);
    this.seconds.set(0);
    this.recording.set(true);
  }

  /** Ends the recording and gives what was recorded. */
  stop(): Take {
    this.recording.set(false);
    const take = joinBlocks(this.blocks, sampleRate);
    const { startedAt } = this;
    this.blocks = [];
    return startedAt === undefined ? take : { ...take, startedAt };
  }

  close(): void {
    this.stream?.getTracks().forEach((track) => track.stop());
    void this.context?.close();
    this.stream = this.context = undefined;
    this.listening.set(false);
    this.recording.set(false);
    this.level.set(0);
  }

  /**
   * Puts the take onto the time axis by what is heard while a block comes in. Blocks are late by chance and never early, so the earliest start counts;
   * what the microphone is late by in any case is known to the browser at best.
   */
  private align(): void {
    const heard = this.blocks.length <= alignedBlocks ? this.playing?.() : undefined;
    if (heard === undefined || (this.lastHeard !== undefined && heard < this.lastHeard)) return;
    this.lastHeard = heard;
    const start = heard - this.seconds() - this.inputLatency;
    this.startedAt = Math.min(this.startedAt ?? Infinity, start);
  }

  private get inputLatency(): Seconds {
    const settings: MediaTrackSettings & { readonly latency?: number } = this.stream?.getAudioTracks()[0]?.getSettings() ?? {};
    return settings.latency ?? 0;
  }

  private receive(block: RecordedBlock): void {
    let peak = 0;
    for (const channel of block.channels) for (const sample of channel) peak = Math.max(peak, Math.abs(sample));
    this.level.set(Math.max(peak, this.level() * 0.8));
    if (!this.recording()) return;
    const last = this.blocks.at(-1);
    if (last) this.droppedFrames.update((count) => count + Math.max(0, block.frame - last.frame - last.channels[0]!.length));
    this.blocks.push(block);
    const first = this.blocks[0]!;
    this.seconds.set((block.frame + block.channels[0]!.length - first.frame) / sampleRate);
    this.align();
    if (this.seconds() >= longestSeconds) this.recording.set(false);
  }
}

function refusal(error: unknown): string {
  const name = error instanceof Error ? error.name : '';
  if (name === 'NotAllowedError')
    return 'The microphone was refused: allow this page to use it in the browser’s address bar, then try again.';
  if (name === 'NotFoundError' || name === 'OverconstrainedError') return 'There is no microphone: connect one, then try again.';
  if (name === 'NotReadableError') return 'The microphone is in use by another program: close that, then try again.';
  return `The microphone could not be opened: ${error instanceof Error ? error.message : String(error)}`;
}
