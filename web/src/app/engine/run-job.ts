import type { Audio, AudioStream, MotionTrack, Project } from '@tangled-choir/core';
import {
  averageSpectrum,
  findLandingPoints,
  DataError,
  effectCatalogue,
  hashBytes,
  cutSource,
  describeRecording,
  measureSpectrogram,
  longTermSpectrum,
  matchLevels,
  freezeLayer,
  endToEnd,
  printSource,
  renderPrint,
  loopSource,
  inMemory,
  partOfRecording,
  readLoopTracks,
  proposeLoops,
  splitAtSilences,
  splitAtTransients,
  measure,
  measureOverview,
  measureSeating,
  readArchive,
  readOverview,
  readZip,
  Cancelled,
  UnknownFormat,
  renderContext,
  renderItem,
  renderSound,
  writeArchive,
  writeItem,
  zipFiles,
} from '@tangled-choir/core';
import type { Movie } from './make-movie';
import { blobSource, BlobTarget, collectBlob } from './blob-source';
import { importDecoded, importFile, importTake } from './import-jobs';
import { openStored, readRanges, share, stored } from './recording-jobs';
import { spectrumHigh, spectrumLow, spectrumPoints } from './protocol';
import type {
  ImportPreview,
  JobAnswer,
  JobKind,
  JobMessage,
  JobRequest,
  JobResults,
  SharedAudio,
  StoredPrint,
  StoredSource,
} from './protocol';

/** Decoding of compressed audio and video; only a browser's worker has the codecs. */
export interface Codecs {
  openCompressed(file: Blob, what: string): Promise<AudioStream>;
  measureMotion(video: Blob, what: string, progress: (share: number) => boolean): Promise<MotionTrack>;
  makeMovie(video: Blob, what: string, sound: Audio, offset: number, progress: (share: number) => boolean): Promise<Movie>;
}

/** Does one job and answers with its result or with a sentence about what went wrong. */
export async function runJob({ id, request, cancel }: JobMessage, answer: (message: JobAnswer) => void, codecs: Codecs): Promise<void> {
  const progress = (share: number): boolean => {
    answer({ id, type: 'progress', share });
    return !cancel || Atomics.load(cancel, 0) === 0;
  };
  try {
    const show = (preview: ImportPreview): void => answer({ id, type: 'preview', preview });
    answer({ id, type: 'done', result: await doJob(request, progress, show, codecs) });
  } catch (error) {
    const refused = error instanceof DataError || error instanceof Cancelled || error instanceof RangeError;
    const why = error instanceof UnknownFormat ? 'unknown format' : refused ? 'refused' : 'fault';
    answer({ id, type: 'failed', message: error instanceof Error ? error.message : String(error), why });
  }
}

async function doJob(
  request: JobRequest,
  progress: (share: number) => boolean,
  show: (preview: ImportPreview) => void,
  codecs: Codecs,
): Promise<JobResults[JobKind]> {
  switch (request.kind) {
    case 'import':
      return importFile(request, progress, show, codecs);
    case 'import decoded':
      return importDecoded(request);
    case 'take':
      return importTake(request);
    case 'read':
      return readRanges(request);
    case 'overview':
      return readOverview(await openStored(request));
    case 'describe':
      return describeRecording(await openStored(request), progress);
    case 'spectrogram':
      return measureSpectrogram(await openStored(request), request.shape);
    case 'spectrum':
      return {
        levels: await averageSpectrum(
          await openStored(request),
          { points: spectrumPoints, low: spectrumLow, high: spectrumHigh },
          progress,
        ),
      };
    case 'cut':
      return cut(request, progress);
    case 'motion':
      return codecs.measureMotion(request.video, `“${request.name}”`, progress);
    case 'hash':
      return { hash: hashBytes(request.bytes) };
    case 'parts':
      return request.at === 'silences'
        ? splitAtSilences(await openStored(request), {}, progress)
        : splitAtTransients(await openStored(request), undefined, progress);
    case 'propose loops':
      return findLoops(request, progress);
    case 'loop': {
      const loop = await loopSource(await openStored(request), request.source, request.part);
      return { ...stored(loop), join: loop.join, report: loop.report, audio: share(loop.audio) };
    }
    case 'print':
      return print(request, progress);
    case 'unzip':
      return readZip(blobSource(request.file), isSoundFile, `“${request.name}”`, () => collectBlob(''));
    case 'landing': {
      const { audio, from, to } = request;
      const points = findLandingPoints(partOf(audio, from, to));
      return {
        transient: points.transient === undefined ? undefined : points.transient + from,
        peak: points.peak + from,
        endOfRise: points.endOfRise + from,
      };
    }
    case 'render': {
      const { sound, sampleRate, identities, audio } = request;
      const rendered = renderSound(sound, { sampleRate, identities, library: audio }, { tail: 'ring out', progress });
      return { audio: share(rendered), overview: measureOverview(rendered), measured: measure(rendered) };
    }
    case 'match': {
      const { sound, sampleRate, identities, audio, frequencies } = request;
      const half = (done: number) => (share: number) => progress(done + share / 2);
      const rendered = renderSound(sound, { sampleRate, identities, library: audio }, { tail: 'cut at the last clip', progress: half(0) });
      const from = await longTermSpectrum(inMemory(rendered), frequencies);
      return matchLevels(from, await longTermSpectrum(await openStored(request), frequencies, half(0.5)));
    }
    case 'freeze': {
      const { sound, sampleRate, identities, audio } = request;
      const { channels, ...frozen } = freezeLayer(sound, { sampleRate, identities, library: audio }, { progress });
      return { ...frozen, channels: share({ sampleRate, channels: [...channels] }).channels };
    }
    case 'seating': {
      const { sound, sampleRate, identities, audio, range } = request;
      return measureSeating(sound, { sampleRate, identities, library: audio }, range, progress);
    }
    case 'movie': {
      const { sound, sampleRate, identities, audio, video, picture } = request;
      const half = (done: number) => (share: number) => progress(done + share / 2);
      const rendered = renderSound(sound, { sampleRate, identities, library: audio }, { tail: 'ring out', progress: half(0) });
      return codecs.makeMovie(video, `“${picture.file}”`, rendered, picture.offset, half(0.5));
    }
    case 'deliver': {
      const { item, settings, project, audio, moment, write } = request;
      const rendered = renderItem(item, settings, renderContext(project, audio), { progress });
      const file = write ? writeItem(item, rendered, settings, project, moment) : undefined;
      return { wav: file?.wav, entry: file?.entry, findings: rendered.findings, measured: rendered.measured };
    }
    case 'pack':
      return packBlobs(request.project, request.audio, request.pictures);
    case 'unpack':
      return readArchive(blobSource(request.file), effectCatalogue, `“${request.name}”`, () => collectBlob(''));
    case 'zip':
      return zipFiles(request.files);
  }
}

/** The archive of a project, of which no more than a few pieces are in memory at a time. */
async function packBlobs(project: Project, audio: ReadonlyMap<string, Blob>, pictures: ReadonlyMap<string, Blob>): Promise<Blob> {
  const sources = (blobs: ReadonlyMap<string, Blob>) => new Map([...blobs].map(([hash, blob]) => [hash, blobSource(blob)]));
  const collector = collectBlob('application/zip');
  await writeArchive(project, sources(audio), sources(pictures), (bytes) => collector.write(bytes));
  return collector.finish();
}

type PrintRequest = Extract<JobRequest, { kind: 'print' }>;

function print(request: PrintRequest, progress: (share: number) => boolean): StoredPrint[] {
  const { recipes, names, part, sources, endToEnd: gap, range, sampleRate, identities, audio: library } = request;
  const rendered = recipes.map((recipe, n) =>
    renderPrint(
      recipe,
      { sampleRate, identities, library },
      { progress: (share) => progress((n + share) / recipes.length), ...(range && { range }) },
    ),
  );
  const takes =
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
}

async function cut(request: Extract<JobRequest, { kind: 'cut' }>, progress: (share: number) => boolean): Promise<StoredSource[]> {
  const { source, parts, channel } = request;
  const recording = await openStored(request);
  const sources: StoredSource[] = [];
  for (const [n, part] of parts.entries()) {
    const target = new BlobTarget();
    const made = await cutSource(recording, source, part, channel, target, (share) => progress((n + share) / parts.length));
    sources.push({ ...made, wav: target.wav });
  }
  return sources;
}

/** Share of the search for loops that measuring the tracks takes. */
const tracksShare = 0.4;

async function findLoops(
  request: Extract<JobRequest, { kind: 'propose loops' }>,
  progress: (share: number) => boolean,
): Promise<JobResults['propose loops']> {
  const { from, to, wishes } = request;
  const recording = await openStored(request);
  const first = Math.round(from * recording.sampleRate);
  const part = partOfRecording(recording, first, Math.min(recording.frames, Math.round(to * recording.sampleRate)));
  const tracks = await readLoopTracks(part, (share) => progress(tracksShare * share));
  const proposals = await proposeLoops(part, tracks, wishes, (share) => progress(tracksShare + (1 - tracksShare) * share));
  return {
    tracks: { ...tracks, first: tracks.first + from },
    proposals: proposals.map((proposal) => ({ ...proposal, from: proposal.from + from, to: proposal.to + from })),
  };
}

/** A view of a part of a recording; times in seconds. */
function partOf({ sampleRate, channels }: SharedAudio, from: number, to: number): Audio {
  const first = Math.round(from * sampleRate);
  return { sampleRate, channels: channels.map((channel) => channel.subarray(first, Math.round(to * sampleRate))) };
}

/** Endings of files that may be sound; the rest of a folder or a zip is left alone. */
const soundEndings = /\.(wav|wave|bwf|aiff?|aifc|flac|ogg|oga|opus|mp3|m4a|mp4|aac|webm|caf|w64)$/i;

export function isSoundFile(path: string): boolean {
  return soundEndings.test(path);
}
