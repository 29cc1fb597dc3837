import type {
  Audio,
  ChannelChoice,
  CutPart,
  LandingPoints,
  LoopProposal,
  LoopTracks,
  LoopWishes,
  Overview,
  PitchTrack,
  RecordingFacts,
  SeamlessLoop,
  SeamReport,
  SoundingPart,
  Source,
  Spectrogram,
  SpectrogramShape,
} from '@tangled-choir/core';
import {
  averageSpectrum,
  cutSource,
  describeRecording,
  findAttacks,
  findLandingPoints,
  loopSource,
  measureSpectrogram,
  partOfRecording,
  proposeLoops,
  readLoopTracks,
  readOverview,
  splitAtSilences,
  splitAtTransients,
  trackRecording,
} from '@tangled-choir/core';
import { BlobTarget } from './blobs';
import { defineJob } from './job';
import type { FrameRange, SharedAudio } from './shared-audio';
import { readInto, roomFor, share } from './shared-audio';
import type { StoredRecording, StoredSource } from './stored';
import { openStored, stored } from './stored';

/**
 * Reads ranges of a recording, or all of it, into memory of its full length: into `into`, or where that is missing into new memory, which is
 * shared where it can be.
 */
export const readRanges = defineJob<
  StoredRecording & { readonly ranges: 'all' | readonly FrameRange[]; readonly into: SharedAudio | undefined },
  SharedAudio
>({
  async run({ ranges: wanted, into, ...kept }) {
    const recording = await openStored(kept);
    const audio = into ?? roomFor(recording);
    await readInto(audio, recording, wanted === 'all' ? [{ from: 0, to: recording.frames }] : wanted);
    return audio;
  },
});

export const overview = defineJob<StoredRecording, Overview>({
  run: async (kept) => readOverview(await openStored(kept)),
});

export const describe = defineJob<StoredRecording, RecordingFacts>({
  run: async (kept, { progress }) => describeRecording(await openStored(kept), progress),
});

export const spectrogram = defineJob<StoredRecording & { readonly shape: SpectrogramShape }, Spectrogram>({
  run: async ({ shape, ...kept }) => measureSpectrogram(await openStored(kept), shape),
});

/** The mean spectrum of a recording at `points` frequencies in equal ratios; none for silence. */
export const meanSpectrum = defineJob<
  StoredRecording & { readonly points: number; readonly low: number; readonly high: number },
  { readonly levels: Float32Array | undefined }
>({
  run: async ({ points, low, high, ...kept }, { progress }) => ({
    levels: await averageSpectrum(await openStored(kept), { points, low, high }, progress),
  }),
});

/** Finds where the part of a recording that a clip shows can land; `from` and `to` in seconds. */
export const landing = defineJob<{ readonly audio: SharedAudio; readonly from: number; readonly to: number }, LandingPoints>({
  run({ audio, from, to }) {
    const points = findLandingPoints(partOf(audio, from, to));
    return {
      transient: points.transient === undefined ? undefined : points.transient + from,
      peak: points.peak + from,
      endOfRise: points.endOfRise + from,
    };
  },
});

/** The moments of a part of a recording at which something strikes, in seconds of the recording. */
export const attacks = defineJob<{ readonly audio: SharedAudio; readonly from: number; readonly to: number }, readonly number[]>({
  run: ({ audio, from, to }) => findAttacks(partOf(audio, from, to)).map((frame) => from + frame / audio.sampleRate),
});

/** The pitch of a part of a recording, every `hop` seconds. */
export const pitchTrack = defineJob<StoredRecording & { readonly from: number; readonly to: number; readonly hop: number }, PitchTrack>({
  run: async ({ from, to, hop, ...kept }) => trackRecording(await openStored(kept), from, to, hop),
});

/** The parts of a recording between silences or from transient to transient. */
export const soundingParts = defineJob<StoredRecording & { readonly at: 'silences' | 'transients' }, readonly SoundingPart[]>({
  run: async ({ at, ...kept }, { progress }) =>
    at === 'silences'
      ? splitAtSilences(await openStored(kept), {}, progress)
      : splitAtTransients(await openStored(kept), undefined, progress),
});

/** Cuts parts out of a recording, or makes it mono, as sources of their own. */
export const cut = defineJob<
  StoredRecording & { readonly source: Source; readonly parts: readonly CutPart[]; readonly channel: ChannelChoice },
  readonly StoredSource[]
>({
  async run({ source, parts, channel, ...kept }, { progress }) {
    const recording = await openStored(kept);
    const sources: StoredSource[] = [];
    for (const [n, part] of parts.entries()) {
      const target = new BlobTarget();
      const made = await cutSource(recording, source, part, channel, target, (share) => progress((n + share) / parts.length));
      sources.push({ ...made, wav: target.wav });
    }
    return sources;
  },
});

/** Share of the search for loops that measuring the tracks takes. */
const tracksShare = 0.4;

/** How a recording drifts, and its parts that would loop best; `from` and `to` bound the search, in seconds. */
export const findLoops = defineJob<
  StoredRecording & { readonly from: number; readonly to: number; readonly wishes: LoopWishes },
  { readonly tracks: LoopTracks; readonly proposals: readonly LoopProposal[] }
>({
  async run({ from, to, wishes, ...kept }, { progress }) {
    const recording = await openStored(kept);
    const first = Math.round(from * recording.sampleRate);
    const part = partOfRecording(recording, first, Math.min(recording.frames, Math.round(to * recording.sampleRate)));
    const tracks = await readLoopTracks(part, (share) => progress(tracksShare * share));
    const proposals = await proposeLoops(part, tracks, wishes, (share) => progress(tracksShare + (1 - tracksShare) * share));
    return {
      tracks: { ...tracks, first: tracks.first + from },
      proposals: proposals.map((proposal) => ({ ...proposal, from: proposal.from + from, to: proposal.to + from })),
    };
  },
});

/** A seamless loop made ready as a source. */
export interface StoredLoop extends StoredSource {
  readonly audio: SharedAudio;
  readonly join: SeamlessLoop['join'];
  readonly report: SeamReport;
}

/** Makes a seamless loop of a part of a source and measures its seam. */
export const joinLoop = defineJob<
  StoredRecording & { readonly source: Source; readonly part: { readonly from: number; readonly to: number; readonly crossfade: number } },
  StoredLoop
>({
  async run({ source, part, ...kept }) {
    const loop = await loopSource(await openStored(kept), source, part);
    return { ...stored(loop), join: loop.join, report: loop.report, audio: share(loop.audio) };
  },
});

/** A view of a part of a recording; times in seconds. */
function partOf({ sampleRate, channels }: SharedAudio, from: number, to: number): Audio {
  const first = Math.round(from * sampleRate);
  return { sampleRate, channels: channels.map((channel) => channel.subarray(first, Math.round(to * sampleRate))) };
}
