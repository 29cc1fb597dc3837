import type { Clip, Sound } from '@tangled-choir/core';
import { clipDuration, contentKey, isUntreated, projectSampleRate, pulledClips, treatmentKey, treatmentOf } from '@tangled-choir/core';
import type { JobOptions, WorkerPool } from './pool';
import type { AudioByIdentity } from './render-jobs';
import type { SharedAudio } from './shared-audio';

/** A treated clip that somebody needs. */
export interface WantedTreatment {
  readonly key: string;
  /** What tells its content apart from all others. */
  readonly content: string;
  readonly clip: Clip;
  readonly audio: SharedAudio;
}

/** The treatments that sounds need, each once; clips whose recording is not there are left out. */
export function wantedTreatments(
  sounds: readonly Sound[],
  identities: ReadonlyMap<string, string>,
  audio: AudioByIdentity,
): readonly WantedTreatment[] {
  const wanted = new Map<string, WantedTreatment>();
  for (const sound of sounds)
    for (const clip of pulledClips(sound, projectSampleRate).layers.flatMap(({ clips }) => clips)) {
      const identity = identities.get(clip.source ?? '');
      const recording = identity === undefined ? undefined : audio.get(identity);
      if (identity === undefined || !recording || isUntreated(clip)) continue;
      const key = treatmentKey(identity, clip);
      wanted.set(key, { key, content: contentKey(identity, clip), clip, audio: recording });
    }
  return [...wanted.values()];
}

/** Whoever works at a clip of so many seconds sees that it is worked on, and can stop it. */
const longEnoughToTell = 60;

/** Makes treated clips as jobs, so that everything that renders with them shares them. */
export async function makeTreatments(
  pool: Pick<WorkerPool, 'run'>,
  wanted: readonly WantedTreatment[],
  options: JobOptions<'treat'> = {},
): Promise<Map<string, SharedAudio>> {
  const made = await Promise.all(
    wanted.map(async ({ key, content, clip, audio }): Promise<[string, SharedAudio]> => {
      const quiet = clipDuration(clip) < longEnoughToTell;
      return [key, await pool.run('treat', { audio, treatment: treatmentOf(clip), content }, 'Treating a clip', { quiet, ...options })];
    }),
  );
  return new Map(made);
}
