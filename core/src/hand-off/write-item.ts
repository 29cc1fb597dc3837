import { createRandom, seedOf } from '../dsp/random';
import type { Random } from '../dsp/random';
import { hashBytes } from '../formats/hash';
import { encodeSamples, writeWav } from '../formats/wav/wav-write';
import { heardSources } from '../kin/recipe';
import type { Delivery, Project } from '../project/schema';
import { frameTime } from '../project/time/timecode';
import type { Frames, Seconds } from '../units';
import { formOf, isLossless } from './form';
import { ixmlOf } from './ixml';
import type { ManifestFile } from './manifest';
import type { DeliveryItem } from './plan';
import type { RenderedItem } from './render-item';

/** When something was made: comes from outside, because core has no clock. */
export interface Moment {
  /** yyyy-mm-dd */
  readonly date: string;
  /** hh:mm:ss */
  readonly time: string;
}

/** What an item is written with, and what its files tell of it. */
export interface Writing {
  readonly item: DeliveryItem;
  readonly rendered: RenderedItem;
  readonly delivery: Delivery;
  readonly project: Pick<Project, 'name' | 'sources'>;
  readonly moment: Moment;
}

/** Dither of a file: the same for the same recipe. */
const ditherOf = ({ recipe }: DeliveryItem): Random => createRandom(seedOf('dither', recipe));

function sourceNames({ item, project }: Writing): string {
  return heardSources(item.sound, project)
    .map(({ name }) => name)
    .join(', ');
}

/** The name that a file shows where it has a place for one: its path without folders and ending. */
const titleOf = ({ file }: DeliveryItem): string => file.replace(/^.*\//, '').replace(/\.[^.]+$/, '');

function loopOf({ item, rendered }: Writing): { from: Frames; to: Frames } | undefined {
  return item.loops ? { from: 0, to: rendered.measured.frames } : undefined;
}

/** The marks of the sound that lie within the file. */
function cuesOf({ item, rendered, delivery }: Writing): { at: Frames; name: string }[] {
  const { sampleRate } = formOf(delivery);
  return item.sound.marks
    .map(({ name, time }) => ({ name, at: Math.round(time * sampleRate) - rendered.start }))
    .filter(({ at }) => at >= 0 && at < rendered.measured.frames)
    .sort((a, b) => a.at - b.at);
}

/** Throws RangeError for a file without samples: nobody could use it. */
export function refuseEmpty({ item, rendered }: Pick<Writing, 'item' | 'rendered'>): void {
  if (rendered.measured.frames === 0)
    throw new RangeError(`${item.file} would have no samples: “${item.of.name}” has no clips, or ends at 0.`);
}

/** Writes a rendered item as a WAV file that carries its recipe and its sources. */
export function wavOf(writing: Writing): Uint8Array<ArrayBuffer> {
  const { item, delivery, project, moment } = writing;
  const { audio, measured, start } = writing.rendered;
  const { encoding, sampleRate } = formOf(delivery);
  const { clock } = item.sound;
  const loop = loopOf(writing);
  const names = sourceNames(writing);
  return writeWav(audio, {
    encoding,
    ...(encoding !== '32f' && { dither: ditherOf(item) }),
    broadcast: {
      description: `${item.sound.name} · recipe ${item.recipe} · sources: ${names}`,
      reference: item.recipe,
      ...moment,
      timeReference: Math.round(frameTime(clock.startFrame, clock.frameRate) * sampleRate) + start,
      loudness: {
        integrated: measured.integratedLufs,
        range: measured.loudnessRangeLu,
        truePeak: measured.truePeakDbtp,
        momentary: measured.maxMomentaryLufs,
        shortTerm: measured.maxShortTermLufs,
      },
      codingHistory: `A=PCM,F=${sampleRate},W=${encoding === '32f' ? 32 : encoding},M=${delivery.channels},T=Tangled Choir`,
    },
    ...(loop && { loop }),
    cues: cuesOf(writing),
    ixml: ixmlOf(item, writing.rendered, delivery, project),
    info: {
      INAM: titleOf(item),
      IPRD: project.name,
      ICRD: moment.date,
      ICMT: `recipe ${item.recipe}; seed ${item.seed}; sources: ${names}`,
      ISFT: 'Tangled Choir',
    },
  });
}

/** The samples of a lossless file as whole numbers, frame by frame, least byte first, dithered as a WAV file's are. */
export function integerSamples({ item, rendered, delivery }: Writing): Uint8Array<ArrayBuffer> {
  const { encoding } = formOf(delivery);
  const { audio } = rendered;
  const frames = audio.channels[0]?.length ?? 0;
  const bytes = new Uint8Array(frames * audio.channels.length * (encoding === '16' ? 2 : 3));
  encodeSamples(audio.channels, encoding, bytes, ditherOf(item));
  return bytes;
}

/** Hours, minutes, seconds and milliseconds, as chapters in Vorbis comments have them. */
function chapterTime(seconds: Seconds): string {
  const milliseconds = Math.round(seconds * 1_000);
  const part = (unit: number, of: number, digits: number): string => String(Math.floor(milliseconds / unit) % of).padStart(digits, '0');
  return `${part(3_600_000, 100, 2)}:${part(60_000, 60, 2)}:${part(1_000, 60, 2)}.${part(1, 1_000, 3)}`;
}

/** More chapters than that have no number of three digits. */
const mostChapters = 999;

/**
 * What FLAC and Ogg files tell of themselves, as Vorbis comments. Loops carry the two comments that game engines look for; marks are chapters, to the
 * millisecond (https://wiki.xiph.org/Chapter_Extension).
 */
export function commentsOf(writing: Writing): string[] {
  const { item, project, moment } = writing;
  const loop = loopOf(writing);
  return [
    `TITLE=${titleOf(item)}`,
    `ALBUM=${project.name}`,
    `DATE=${moment.date}`,
    `COMMENT=recipe ${item.recipe}; seed ${item.seed}; sources: ${sourceNames(writing)}`,
    'ENCODER=Tangled Choir',
    ...(loop ? [`LOOPSTART=${loop.from}`, `LOOPLENGTH=${loop.to - loop.from}`] : []),
    ...cuesOf(writing)
      .slice(0, mostChapters)
      .flatMap(({ at, name }, index) => {
        const chapter = `CHAPTER${String(index + 1).padStart(3, '0')}`;
        return [`${chapter}=${chapterTime(at / writing.rendered.audio.sampleRate)}`, `${chapter}NAME=${name}`];
      }),
  ];
}

/** What the manifest tells of a file. */
export function manifestEntry(writing: Writing, bytes: Uint8Array): ManifestFile {
  const { item, rendered, delivery, project } = writing;
  const { measured, audio } = rendered;
  const { format, encoding, bitrate } = formOf(delivery);
  const loop = loopOf(writing);
  const finite = (value: number): number | null => (Number.isFinite(value) ? value : null);
  return {
    file: item.file,
    delivery: delivery.name,
    sound: item.of.name,
    key: item.key,
    variant: item.sibling === undefined ? 'original' : item.sibling + 1,
    ...(item.stem !== undefined && { stem: item.stem }),
    recipe: item.recipe,
    form: item.form,
    seed: item.seed,
    draws: { ...item.draws },
    format,
    ...(isLossless(format) ? { encoding } : { kilobits: bitrate }),
    sampleRate: audio.sampleRate,
    channels: audio.channels.length,
    frames: measured.frames,
    bytes: bytes.length,
    seconds: measured.seconds,
    ...(loop && { loop }),
    integratedLufs: finite(measured.integratedLufs),
    truePeakDbtp: finite(measured.truePeakDbtp),
    findings: rendered.findings.map(({ severity, text }) => ({ severity, text })),
    sha256: hashBytes(bytes),
    sources: heardSources(item.sound, project).map((source) => ({
      name: source.name,
      file: source.origin.file,
      sha256: source.audio,
    })),
  };
}
