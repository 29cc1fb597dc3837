import { betweenDensity, betweenTaps } from '../dsp/fractional-read';
import type { Frames, Hertz } from '../units';
import type { ConductEvent } from './conduct-data';
import { compileVoices } from './compiled-voices';
import { plainBench } from './plain-voices';
import type { VoiceBench } from './voice-bench';
import { benchFrames } from './voice-bench';
import { VoicePlayer } from './voice-player';

/** Makes sound of what the engine has decided: frame by frame, and the same in every size of block. */
export class ConductMixer {
  private readonly assets = new Map<string, readonly Float32Array[]>();
  private readonly voices = new Map<number, VoicePlayer>();
  private queue: ConductEvent[] = [];
  private frame: Frames = 0;

  constructor(
    private readonly sampleRate: Hertz,
    private readonly bench: VoiceBench = compileVoices(betweenTaps(), betweenDensity) ?? plainBench(),
  ) {}

  /** A mixer at its beginning with the same recordings. */
  afresh(): ConductMixer {
    const other = new ConductMixer(this.sampleRate, this.bench);
    for (const [id, channels] of this.assets) other.assets.set(id, channels);
    return other;
  }

  /** How many voices sound. */
  get sounding(): number {
    return this.voices.size;
  }

  /** Brings in a recording, one or two channels at the mixer's rate; or takes it away. What plays already goes on with what it has. */
  setAsset(id: string, channels: readonly Float32Array[] | undefined): void {
    if (channels) this.assets.set(id, channels);
    else this.assets.delete(id);
  }

  /** Takes over what was decided for frames that are still to come. */
  take(events: readonly ConductEvent[]): void {
    for (const event of events) if (event.do === 'play' || event.do === 'turn' || event.do === 'stop') this.queue.push(event);
  }

  /** Fills the first `frames` of both channels with what comes next. */
  render(left: Float32Array, right: Float32Array, frames: Frames): void {
    const { queue, bench } = this;
    let done = 0;
    let next = 0;
    while (done < frames) {
      while (next < queue.length && queue[next]!.frame <= this.frame + done) this.act(queue[next++]!);
      const most = Math.min(frames, done + benchFrames);
      const until = next < queue.length ? Math.min(most, queue[next]!.frame - this.frame) : most;
      const count = until - done;
      bench.left.fill(0, 0, count);
      bench.right.fill(0, 0, count);
      for (const [id, voice] of this.voices) {
        voice.addTo(bench, 0, count);
        if (voice.over) this.voices.delete(id);
      }
      left.set(bench.left.subarray(0, count), done);
      right.set(bench.right.subarray(0, count), done);
      done = until;
    }
    if (next > 0) queue.splice(0, next);
    this.frame += frames;
  }

  private act(event: ConductEvent): void {
    if (event.do === 'play') {
      const channels = this.assets.get(event.asset);
      if (channels) this.voices.set(event.voice, new VoicePlayer(channels, this.sampleRate, event));
    } else if (event.do === 'turn') this.voices.get(event.voice)?.turn(event);
    else if (event.do === 'stop') {
      const voice = this.voices.get(event.voice);
      voice?.stop(event.fade);
      if (voice?.over) this.voices.delete(event.voice);
    }
  }
}
