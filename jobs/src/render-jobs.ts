import type {
  Audio,
  Difference,
  Draws,
  FrozenLayer,
  Heard,
  Measurement,
  MethodChoice,
  OutputMatch,
  Overview,
  Picture,
  RenderContext,
  Seating,
  Sound,
  Strain,
  Source,
  TimbrePrint,
  Treatment,
  Findings,
  Unit,
} from '@tangled-choir/core';
import {
  drawGroups,
  endToEnd,
  freezeLayer,
  inMemory,
  longTermSpectrum,
  matchLevels,
  measure,
  measureOverview,
  effectCatalogue,
  matchOutput,
  measureSeating,
  methodFor,
  printSource,
  rankDifferences,
  renderPrint,
  renderSound,
  renderTake,
  strainOf,
  takeDraws,
  timbrePrint,
  makeStretchedPiece,
  makeTreated,
} from '@tangled-choir/core';
import type { Movie } from './job';
import { defineJob } from './job';
import type { FrameRange, SharedAudio } from './shared-audio';
import { share } from './shared-audio';
import type { StoredRecording, StoredSource } from './stored';
import { openStored, stored } from './stored';

/** Recordings, and treated clips, by what tells them apart. */
export type AudioByIdentity = ReadonlyMap<string, SharedAudio>;

/** What is around a sound that is to be rendered. */
export interface RenderInput {
  readonly sampleRate: number;
  readonly identities: ReadonlyMap<string, string>;
  readonly audio: AudioByIdentity;
  /** Treated clips that are there already, by their keys; the others are treated while rendering. */
  readonly treated?: AudioByIdentity;
}

/** A sound with all that is needed to render it. */
export interface SoundInput extends RenderInput {
  readonly sound: Sound;
}

/** A rendered sibling with its waveform, measured, and how it is heard, for comparing it with the others. */
export interface SiblingAudio {
  readonly audio: SharedAudio;
  readonly overview: Overview;
  readonly measured: Measurement;
  readonly print: TimbrePrint;
}

function contextOf({ sampleRate, identities, audio, treated }: RenderInput): RenderContext {
  return { sampleRate, identities, library: audio, ...(treated && { treated }) };
}

/** Progress of one half of a job. */
const half =
  (progress: (share: Unit) => boolean, done: Unit) =>
  (share: Unit): boolean =>
    progress(done + share / 2);

/** Renders a sibling of a family. */
export const sibling = defineJob<SoundInput, SiblingAudio>({
  run(input, { progress }) {
    const rendered = renderSound(input.sound, contextOf(input), { tail: 'ring out', progress });
    return {
      audio: share(rendered),
      overview: measureOverview(rendered),
      measured: measure(rendered),
      print: timbrePrint(rendered),
    };
  },
});

/** Which of its draws make a sibling what it is: it is rendered again and again, each time without some of them. */
export const whatDiffers = defineJob<SoundInput & { readonly draws: Draws }, Difference[]>({
  run(input, { progress }) {
    const { sound, draws } = input;
    const groups = drawGroups(sound, draws);
    let done = 0;
    const heard = (without: readonly string[]): Heard => {
      const left = Object.fromEntries(Object.entries(draws).filter(([address]) => !without.includes(address)));
      const share = (part: Unit): boolean => progress((done + part) / (groups.length + 1));
      const rendered = renderSound(takeDraws(sound, left, effectCatalogue), contextOf(input), { tail: 'ring out', progress: share });
      done++;
      return { print: timbrePrint(rendered), integratedLufs: measure(rendered).integratedLufs };
    };
    const whole = heard([]);
    return rankDifferences(
      whole,
      groups.map((addresses) => ({ addresses, ...heard(addresses) })),
    );
  },
});

/** Renders what a behaviour plays: a sound to the end of its tail, or a loop that comes round. */
export const take = defineJob<SoundInput & { readonly loops: boolean }, SharedAudio>({
  run: (input, { progress }) => share(renderTake(input, contextOf(input), progress)),
});

/** Does to a recording what a clip does to it before it plays; shared by everything that plays such a clip. */
export const treat = defineJob<{ readonly audio: SharedAudio; readonly treatment: Treatment; readonly content: string }, SharedAudio>({
  run: ({ audio, treatment, content }, { progress }) =>
    share(makeTreated(audio, treatment, { findings: findingsAbout(content), progress })),
});

/** A few seconds of what `treat` makes, in frames of it: for who wants to hear it before all of it is there. */
export const treatPiece = defineJob<{ readonly audio: SharedAudio; readonly treatment: Treatment; readonly span: FrameRange }, SharedAudio>(
  {
    run: ({ audio, treatment, span }, { progress }) => share(makeStretchedPiece(audio, treatment, span, progress).audio),
  },
);

/** What this worker found out about contents: siblings of a family share them. */
const known = new Map<string, Findings>();
const mostKnown = 100;

function findingsAbout(content: string): Findings {
  const findings = known.get(content) ?? {};
  known.delete(content);
  known.set(content, findings);
  if (known.size > mostKnown) known.delete(known.keys().next().value!);
  return findings;
}

/** Which way of stretching suits the content of a clip, and why. */
export const chooseMethod = defineJob<{ readonly audio: SharedAudio; readonly treatment: Treatment }, MethodChoice>({
  run: ({ audio, treatment }) => methodFor(audio, treatment),
});

/** What the stretch of a clip has done to its sound that nobody asked for; `made` is its result, where that is there. */
export const strain = defineJob<{ readonly audio: SharedAudio; readonly treatment: Treatment; readonly made?: SharedAudio }, Strain>({
  run: ({ audio, treatment, made }) => strainOf(audio, treatment, made),
});

/** How the layers of a stretch of the sound sit together; `range` in seconds. */
export const seating = defineJob<SoundInput & { readonly range: { readonly from: number; readonly to: number } }, Seating>({
  run: (input, { progress }) => measureSeating(input.sound, contextOf(input), input.range, progress),
});

/** The output level with which a step leaves the loudness as it is; `address` is where that level is. */
export const outputMatch = defineJob<SoundInput & { readonly step: string; readonly address: string }, OutputMatch>({
  run: (input, { progress }) => matchOutput(input.sound, contextOf(input), input, effectCatalogue, progress),
});

/** Renders what a layer gives in front of its fader, by its recipe. */
export const freeze = defineJob<SoundInput, FrozenLayer>({
  run(input, { progress }) {
    const { channels, ...frozen } = freezeLayer(input.sound, contextOf(input), { progress });
    return { ...frozen, channels: share({ sampleRate: input.sampleRate, channels: [...channels] }).channels };
  },
});

/** What brings a sound to the long-term spectrum of a recording: levels in dB at frequencies. */
export const match = defineJob<SoundInput & StoredRecording & { readonly frequencies: readonly number[] }, readonly number[]>({
  async run(input, { progress }) {
    const { sound, frequencies } = input;
    const rendered = renderSound(sound, contextOf(input), { tail: 'cut at the last clip', progress: half(progress, 0) });
    const from = await longTermSpectrum(inMemory(rendered), frequencies);
    return matchLevels(from, await longTermSpectrum(await openStored(input), frequencies, half(progress, 0.5)));
  },
});

/** The picture with the sound as it is, in one file. */
export const movie = defineJob<SoundInput & { readonly video: Blob; readonly picture: Picture }, Movie>({
  run(input, { progress, codecs }) {
    const { sound, video, picture } = input;
    const rendered = renderSound(sound, contextOf(input), { tail: 'ring out', progress: half(progress, 0) });
    return codecs.makeMovie(video, `“${picture.file}”`, rendered, picture.offset, half(progress, 0.5));
  },
  movable: ({ bytes }) => [bytes.buffer],
});

/** A printed source made ready, and where on the time axis it begins. */
export type StoredPrint = StoredSource & { readonly start: number };

/** Renders recipes into sources: each on its own, or end to end as one. */
export const print = defineJob<
  RenderInput & {
    readonly recipes: readonly Sound[];
    readonly names: readonly string[];
    readonly part: string;
    readonly sources: readonly Source[];
    /** Seconds between takes that lie end to end in one source. */
    readonly endToEnd: number | undefined;
    /** Only this stretch of the time axis. */
    readonly range: { readonly from: number; readonly to: number } | undefined;
  },
  readonly StoredPrint[]
>({
  run(input, { progress }) {
    const { recipes, names, part, sources, endToEnd: gap, range } = input;
    const rendered = recipes.map((recipe, n) =>
      renderPrint(recipe, contextOf(input), {
        progress: (share) => progress((n + share) / recipes.length),
        ...(range && { range }),
      }),
    );
    const takes: { readonly audio: Audio; readonly start: number }[] =
      gap === undefined
        ? rendered
        : [
            {
              audio: endToEnd(
                rendered.map(({ audio }) => audio),
                gap,
              ),
              start: rendered[0]?.start ?? 0,
            },
          ];
    return takes.map(({ audio, start }, n) => ({
      ...stored({ audio, ...printSource(audio, recipes[n]!, { name: names[n]!, part }, { sources: [...sources] }) }),
      start,
    }));
  },
});
