import type { Audio } from '@tangled-choir/core';
import {
  findLandingPoints,
  DataError,
  effectCatalogue,
  frameCount,
  importWav,
  measure,
  measureOverview,
  readArchive,
  readWav,
  RenderCancelled,
  renderContext,
  renderItem,
  renderSound,
  writeArchive,
  writeItem,
  zipFiles,
} from '@tangled-choir/core';
import type { JobAnswer, JobKind, JobMessage, JobRequest, JobResults, LoadedAudio, SharedAudio } from './protocol';

/** Does one job and answers with its result or with a sentence about what went wrong. */
export function runJob({ id, request, cancel }: JobMessage, answer: (message: JobAnswer) => void): void {
  const progress = (share: number): boolean => {
    answer({ id, type: 'progress', share });
    return !cancel || Atomics.load(cancel, 0) === 0;
  };
  try {
    answer({ id, type: 'done', result: doJob(request, progress) });
  } catch (error) {
    const expected = error instanceof DataError || error instanceof RenderCancelled;
    answer({ id, type: 'failed', message: error instanceof Error ? error.message : String(error), expected });
  }
}

function doJob(request: JobRequest, progress: (share: number) => boolean): JobResults[JobKind] {
  switch (request.kind) {
    case 'import': {
      const { source, wav, audio, notes } = importWav(request.bytes, request.fileName, request.sampleRate);
      return { source, wav, loaded: describe(audio), notes };
    }
    case 'decode':
      return describe(readWav(request.wav, request.name).audio);
    case 'measure':
      return measure(request.audio);
    case 'landing': {
      const { audio, from, to } = request;
      const first = Math.round(from * audio.sampleRate);
      const part = audio.channels.map((channel) => channel.subarray(first, Math.round(to * audio.sampleRate)));
      const points = findLandingPoints({ sampleRate: audio.sampleRate, channels: part });
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
    case 'deliver': {
      const { item, settings, project, audio, moment, write } = request;
      const rendered = renderItem(item, settings, renderContext(project, audio), { progress });
      const file = write ? writeItem(item, rendered, settings, project, moment) : undefined;
      return { wav: file?.wav, entry: file?.entry, findings: rendered.findings, measured: rendered.measured };
    }
    case 'pack':
      return writeArchive(request.project, request.audio);
    case 'unpack':
      return readArchive(request.bytes, effectCatalogue, `“${request.name}”`);
    case 'zip':
      return zipFiles(request.files);
  }
}

/** Recordings up to this many seconds are measured together with their waveform. */
const longestMeasuredAtOnce = 20;
const overviewColumns = 1_600;

function describe(audio: Audio): LoadedAudio {
  const seconds = frameCount(audio) / audio.sampleRate;
  return {
    audio: share(audio),
    overview: measureOverview(audio, overviewColumns),
    measured: seconds <= longestMeasuredAtOnce ? measure(audio) : undefined,
  };
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
