import type { Audio, AudioFile, MotionTrack } from '@tangled-choir/core';
import {
  averageSpectrum,
  findLandingPoints,
  DataError,
  effectCatalogue,
  hashBytes,
  importAudio,
  cutSource,
  longTermSpectrum,
  matchLevels,
  describeCharacter,
  frameCount,
  freezeLayer,
  endToEnd,
  printSource,
  renderPrint,
  loopSource,
  measureLoopTracks,
  proposeLoops,
  splitAtSilences,
  splitAtTransients,
  measure,
  measureOverview,
  measureSeating,
  noDetails,
  readArchive,
  readUncompressed,
  readZip,
  readWav,
  RenderCancelled,
  UnknownFormat,
  renderContext,
  renderItem,
  renderSound,
  writeArchive,
  writeItem,
  zipFiles,
} from '@tangled-choir/core';
import type { Movie } from './make-movie';
import { spectrumHigh, spectrumLow, spectrumPoints } from './protocol';
import type {
  ImportPreview,
  JobAnswer,
  JobKind,
  JobMessage,
  JobRequest,
  JobResults,
  LoadedAudio,
  SharedAudio,
  StoredPrint,
} from './protocol';

/** Decoding of compressed audio and video; only a browser's worker has the codecs. */
export interface Codecs {
  decodeAudio(bytes: Uint8Array<ArrayBuffer>, what: string, progress: (share: number) => boolean): Promise<AudioFile>;
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
    const refused = error instanceof DataError || error instanceof RenderCancelled || error instanceof RangeError;
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
    case 'import': {
      const { bytes, fileName, sampleRate } = request;
      const file = readUncompressed(bytes, fileName) ?? (await codecs.decodeAudio(bytes, `“${fileName}”`, progress));
      // Converting, hashing and storing take several times as long as showing.
      const overview = measureOverview(file.audio, overviewColumns);
      show({ overview, seconds: frameCount(file.audio) / file.audio.sampleRate });
      const { source, wav, audio, notes } = await importAudio(file, fileName, sampleRate);
      const loaded = audio === file.audio ? { audio: share(audio), overview } : withOverview(audio);
      return { source, wav, loaded, notes };
    }
    case 'import decoded': {
      const { audio: decoded, fileName } = request;
      const told = 'It was decoded by the browser, which converts it to the project’s rate.';
      const file = { audio: decoded, encoding: 'decoded by the browser', notes: [told], details: noDetails };
      const { source, wav, audio, notes } = await importAudio(file, fileName, decoded.sampleRate);
      return { source, wav, loaded: withOverview(audio), notes };
    }
    case 'take': {
      const { audio: recorded, name, date, droppedFrames, sampleRate } = request;
      const lost = droppedFrames > 0 ? [`${droppedFrames} samples were lost while recording; they are silent.`] : [];
      const details = { cues: [], date, ...(lost[0] && { description: lost[0] }) };
      const file = { audio: recorded, encoding: '32 bit float', notes: lost, details };
      const { source, wav, audio, notes } = await importAudio(file, name, sampleRate);
      return { source: { ...source, origin: { ...source.origin, file: 'recorded here' } }, wav, loaded: withOverview(audio), notes };
    }
    case 'decode':
      return withOverview(readWav(request.wav, request.name).audio);
    case 'spectrum':
      return { levels: averageSpectrum(request.audio, spectrumPoints, spectrumLow, spectrumHigh) };
    case 'describe':
      return { measured: measure(request.audio), character: describeCharacter(request.audio) };
    case 'cut':
      return cutSource(request.audio, request.source, request.parts, request.channel).map(({ audio, source, wav }) => ({
        source,
        wav,
        loaded: withOverview(audio),
      }));
    case 'motion':
      return codecs.measureMotion(request.video, `“${request.name}”`, progress);
    case 'hash':
      return { hash: hashBytes(request.bytes) };
    case 'parts':
      return request.at === 'silences' ? splitAtSilences(request.audio) : splitAtTransients(request.audio);
    case 'propose loops': {
      const { audio, from, to, wishes } = request;
      const part = partOf(audio, from, to);
      const tracks = measureLoopTracks(part);
      const proposals = proposeLoops(part, tracks, wishes, progress);
      return {
        tracks: { ...tracks, first: tracks.first + from },
        proposals: proposals.map((proposal) => ({ ...proposal, from: proposal.from + from, to: proposal.to + from })),
      };
    }
    case 'loop': {
      const { audio, source, wav, join, report } = loopSource(request.audio, request.source, request.part);
      return { source, wav, join, report, loaded: withOverview(audio) };
    }
    case 'print':
      return print(request, progress);
    case 'unzip': {
      const files = readZip(request.bytes, isSoundFile, `“${request.name}”`);
      return new Map([...files].map(([path, content]) => [path, new Uint8Array(content)]));
    }
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
      const { sound, sampleRate, hashes, audio } = request;
      const rendered = renderSound(sound, { sampleRate, hashes, library: audio }, { tail: 'ring out', progress });
      return { audio: share(rendered), overview: measureOverview(rendered, overviewColumns), measured: measure(rendered) };
    }
    case 'match': {
      const { sound, sampleRate, hashes, audio, target, frequencies } = request;
      const rendered = renderSound(sound, { sampleRate, hashes, library: audio }, { tail: 'cut at the last clip', progress });
      const from = longTermSpectrum(rendered, frequencies);
      return matchLevels(from, longTermSpectrum(target, frequencies));
    }
    case 'freeze': {
      const { sound, sampleRate, hashes, audio } = request;
      const { channels, ...frozen } = freezeLayer(sound, { sampleRate, hashes, library: audio }, { progress });
      return { ...frozen, channels: share({ sampleRate, channels: [...channels] }).channels };
    }
    case 'seating': {
      const { sound, sampleRate, hashes, audio, range } = request;
      return measureSeating(sound, { sampleRate, hashes, library: audio }, range, progress);
    }
    case 'movie': {
      const { sound, sampleRate, hashes, audio, video, picture } = request;
      const half = (done: number) => (share: number) => progress(done + share / 2);
      const rendered = renderSound(sound, { sampleRate, hashes, library: audio }, { tail: 'ring out', progress: half(0) });
      return codecs.makeMovie(video, `“${picture.file}”`, rendered, picture.offset, half(0.5));
    }
    case 'deliver': {
      const { item, settings, project, audio, moment, write } = request;
      const rendered = renderItem(item, settings, renderContext(project, audio), { progress });
      const file = write ? writeItem(item, rendered, settings, project, moment) : undefined;
      return { wav: file?.wav, entry: file?.entry, findings: rendered.findings, measured: rendered.measured };
    }
    case 'pack':
      return writeArchive(request.project, request.audio, request.pictures);
    case 'unpack':
      return readArchive(request.bytes, effectCatalogue, `“${request.name}”`);
    case 'zip':
      return zipFiles(request.files);
  }
}

type PrintRequest = Extract<JobRequest, { kind: 'print' }>;

function print(request: PrintRequest, progress: (share: number) => boolean): StoredPrint[] {
  const { recipes, names, part, sources, endToEnd: gap, range, sampleRate, hashes, audio: library } = request;
  const rendered = recipes.map((recipe, n) =>
    renderPrint(
      recipe,
      { sampleRate, hashes, library },
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
    ...printSource(audio, recipes[n]!, { name: names[n]!, part }, { sources: [...sources] }),
    loaded: withOverview(audio),
    start,
  }));
}

/** A view of a part of a recording; times in seconds. */
function partOf({ sampleRate, channels }: SharedAudio, from: number, to: number): Audio {
  const first = Math.round(from * sampleRate);
  return { sampleRate, channels: channels.map((channel) => channel.subarray(first, Math.round(to * sampleRate))) };
}

const overviewColumns = 1_600;

/** Endings of files that may be sound; the rest of a folder or a zip is left alone. */
const soundEndings = /\.(wav|wave|bwf|aiff?|aifc|flac|ogg|oga|opus|mp3|m4a|mp4|aac|webm|caf|w64)$/i;

export function isSoundFile(path: string): boolean {
  return soundEndings.test(path);
}

function withOverview(audio: Audio): LoadedAudio {
  return { audio: share(audio), overview: measureOverview(audio, overviewColumns) };
}

/** Moves samples into shared memory, so that page and workers use one copy. */
function share(audio: Audio): SharedAudio {
  if (typeof SharedArrayBuffer === 'undefined') return audio;
  const channels = audio.channels.map((channel) => {
    const shared = new Float32Array(new SharedArrayBuffer(channel.byteLength));
    shared.set(channel);
    return shared;
  });
  return { sampleRate: audio.sampleRate, channels };
}
