import type { Sound } from '@tangled-choir/core';
import type { DeliveryRun } from './delivery-run';
import type { JobOptions, WorkerPool } from './pool';
import type { AudioByIdentity } from './render-jobs';
import type { SharedAudio } from './shared-audio';
import { makeTreatments, wantedTreatments } from './treatments';

/** Gives sounds what they need where all recordings are at hand, by what tells them apart; clips that several play are treated once. */
export function createSoundLoader(
  jobs: Pick<WorkerPool, 'run'>,
  identities: ReadonlyMap<string, string>,
  audio: AudioByIdentity,
  options: JobOptions<'treat'> = {},
): DeliveryRun['load'] {
  const treated = new Map<string, Promise<SharedAudio>>();
  return async (sounds: readonly Sound[]) => {
    const wanted = wantedTreatments(sounds, identities, audio);
    for (const each of wanted)
      if (!treated.has(each.key))
        treated.set(
          each.key,
          makeTreatments(jobs, [each], options).then((made) => made.get(each.key)!),
        );
    const made = await Promise.all(wanted.map(async ({ key }): Promise<[string, SharedAudio]> => [key, await treated.get(key)!]));
    return { audio, treated: new Map(made) };
  };
}
