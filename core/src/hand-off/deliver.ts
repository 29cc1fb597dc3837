import type { Measurement } from '../analysis/loudness/measure';
import { measure } from '../analysis/loudness/measure';
import type { Audio } from '../audio/audio';
import { toMono } from '../audio/audio';
import { convertSampleRate } from '../audio/resample';
import { createRandom, seedOf } from '../dsp/random';
import { hashBytes } from '../formats/hash';
import { writeWav } from '../formats/wav/wav-write';
import { heardSources } from '../kin/family';
import type { HandOff, Project } from '../project/schema';
import { frameTime } from '../project/time/timecode';
import type { RenderContext } from '../render/library';
import type { RenderOptions } from '../render/render-sound';
import { renderSound } from '../render/render-sound';
import type { Frames } from '../units';
import { convertLoop } from './loops';
import type { ManifestFile } from './manifest';
import type { DeliveryItem } from './plan';
import type { Finding } from './pre-flight';
import { checkFile, trimSilence } from './pre-flight';

/** A rendered delivery before it is written. */
export interface RenderedItem {
  readonly audio: Audio;
  /** Where it begins on the time axis, in frames: silence may have been left out. */
  readonly start: Frames;
  readonly measured: Measurement;
  readonly findings: readonly Finding[];
}

/** Renders an item as the settings ask and checks it. */
export function renderItem(
  item: DeliveryItem,
  settings: HandOff,
  context: RenderContext,
  options: Pick<RenderOptions, 'cache' | 'progress'> = {},
): RenderedItem {
  const tail = item.loops ? 'seamless loop' : settings.tail;
  const rendered = renderSound(item.sound, context, { ...options, tail, length: settings.length });
  const converted = item.loops ? convertLoop(rendered, settings.sampleRate) : convertSampleRate(rendered, settings.sampleRate);
  const whole = settings.channels === 'mono' ? toMono(converted) : converted;
  const { audio, lead } = settings.trim && !item.loops ? trimSilence(whole) : { audio: whole, lead: 0 };
  const measured = measure(audio);
  return { audio, start: lead, measured, findings: checkFile(audio, measured, settings.encoding, item.loops) };
}

/** When something was made: comes from outside, because core has no clock. */
export interface Moment {
  /** yyyy-mm-dd */
  readonly date: string;
  /** hh:mm:ss */
  readonly time: string;
}

/** Writes a rendered item as a WAV file that carries its recipe and its sources. Throws when it has no samples: nobody could use that. */
export function writeItem(
  item: DeliveryItem,
  rendered: RenderedItem,
  settings: HandOff,
  project: Project,
  moment: Moment,
): { wav: Uint8Array<ArrayBuffer>; entry: ManifestFile } {
  const { audio, measured, start } = rendered;
  if (measured.frames === 0) throw new Error(`${item.file} would have no samples: “${item.sound.name}” has no clips, or ends at 0.`);
  const loop = item.loops ? { from: 0, to: measured.frames } : undefined;
  const sources = heardSources(item.sound, project);
  const names = sources.map(({ name }) => name);
  const { clock } = item.sound;
  const finite = (value: number): number | null => (Number.isFinite(value) ? value : null);
  const wav = writeWav(audio, {
    encoding: settings.encoding,
    ...(settings.encoding !== '32f' && { dither: createRandom(seedOf('dither', item.recipe)) }),
    broadcast: {
      description: `${item.sound.name} · recipe ${item.recipe} · sources: ${names.join(', ')}`,
      reference: item.recipe,
      ...moment,
      timeReference: Math.round(frameTime(clock.startFrame, clock.frameRate) * settings.sampleRate) + start,
      loudness: {
        integrated: measured.integratedLufs,
        range: measured.loudnessRangeLu,
        truePeak: measured.truePeakDbtp,
        momentary: measured.maxMomentaryLufs,
        shortTerm: measured.maxShortTermLufs,
      },
      codingHistory: `A=PCM,F=${settings.sampleRate},W=${settings.encoding === '32f' ? 32 : settings.encoding},M=${settings.channels},T=Tangled Choir`,
    },
    ...(loop && { loop }),
    info: {
      INAM: item.file.replace(/\.wav$/, ''),
      IPRD: project.name,
      ICRD: moment.date,
      ICMT: `recipe ${item.recipe}; seed ${item.seed}; sources: ${names.join(', ')}`,
      ISFT: 'Tangled Choir',
    },
  });
  const entry: ManifestFile = {
    file: item.file,
    variant: item.sibling === undefined ? 'original' : item.sibling + 1,
    recipe: item.recipe,
    seed: item.seed,
    draws: { ...item.draws },
    sampleRate: settings.sampleRate,
    channels: audio.channels.length,
    encoding: settings.encoding,
    frames: measured.frames,
    seconds: measured.seconds,
    ...(loop && { loop }),
    integratedLufs: finite(measured.integratedLufs),
    truePeakDbtp: finite(measured.truePeakDbtp),
    sha256: hashBytes(wav),
    sources: sources.map((source) => ({ name: source.name, file: source.origin.file, sha256: source.audio })),
  };
  return { wav, entry };
}
