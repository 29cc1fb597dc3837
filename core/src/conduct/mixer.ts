import { betweenDensity, betweenTaps } from '../dsp/fractional-read';
import type { Frames, Hertz } from '../units';
import type { BusStrip } from './bus-strip';
import { stripsOf } from './bus-strip';
import type { ConductEvent, GameBus } from './conduct-data';
import { compileVoices } from './compiled-voices';
import { plainBench } from './plain-voices';
import { busLines } from './state';
import type { VoiceBench } from './voice-bench';
import { benchFrames } from './voice-bench';
import { VoicePlayer } from './voice-player';

/** Makes sound of what the engine has decided: frame by frame, and the same in every size of block. */
export class ConductMixer {
  private readonly assets = new Map<string, readonly Float32Array[]>();
  private readonly voices = new Map<number, VoicePlayer>();
  private buses: readonly GameBus[] = [];
  private lines = busLines([]);
  private strips: ReadonlyMap<string, BusStrip> = new Map();
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
    other.setBuses(this.buses);
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

  /** Sets what buses do with all that goes through them; what sounds goes on. Throws RangeError where they go into each other in a circle. */
  setBuses(buses: readonly GameBus[]): void {
    this.buses = buses;
    this.lines = busLines(buses);
    this.strips = stripsOf(this.lines, this.sampleRate, this.strips);
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
      // All of them first: a bus is heard by the room of another.
      for (const strip of this.strips.values()) strip.clear(count);
      for (const strip of this.strips.values()) this.playInto(strip, count);
      this.playAll(undefined, 0, count);
      for (const strip of this.strips.values()) strip.addTo(bench.left, bench.right, count);
      left.set(bench.left.subarray(0, count), done);
      right.set(bench.right.subarray(0, count), done);
      done = until;
    }
    if (next > 0) queue.splice(0, next);
    this.frame += frames;
  }

  /**
   * Plays what goes into a bus. The bench holds one sum at a time: of all that no room hears, of all that stand where the room of the bus has them, and of each
   * of the others alone. In whatever blocks, every frame is summed up in the same order.
   */
  private playInto(strip: BusStrip, frames: Frames): void {
    const { bench } = this;
    const { wet } = strip;
    for (const [id, voice] of this.voices) {
      if (this.stripOf(voice) !== strip) continue;
      voice.joins = voice.standsAt(0) || voice.standsAt(wet) ? voice.shareMoves(frames) : frames;
      if (voice.joins === 0) continue;
      bench.left.fill(0, 0, voice.joins);
      bench.right.fill(0, 0, voice.joins);
      voice.addTo(bench, 0, voice.joins);
      voice.share(bench, strip, voice.joins);
      if (voice.over) this.voices.delete(id);
    }
    this.playAll(strip, 0, frames);
    strip.add(bench.left, bench.right, frames);
    if (wet === 0) return;
    this.playAll(strip, wet, frames);
    strip.share(bench.left, bench.right, frames);
  }

  /** Sums up in the bench what goes into a bus, or into one that does nothing, and is heard by so much of a room. */
  private playAll(strip: BusStrip | undefined, wet: number, frames: Frames): void {
    const { bench } = this;
    bench.left.fill(0, 0, frames);
    bench.right.fill(0, 0, frames);
    for (const [id, voice] of this.voices) {
      if (this.stripOf(voice) !== strip || (strip && !(voice.joins < frames && voice.standsAt(wet)))) continue;
      voice.addTo(bench, strip ? voice.joins : 0, frames);
      if (voice.over) this.voices.delete(id);
    }
  }

  private stripOf({ bus }: VoicePlayer): BusStrip | undefined {
    return bus === undefined ? undefined : this.strips.get(bus);
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
