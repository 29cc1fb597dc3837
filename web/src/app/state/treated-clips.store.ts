import { inject } from '@angular/core';
import { patchState, signalStore, withMethods, withState } from '@ngrx/signals';
import type { Sound } from '@tangled-choir/core';
import { isStretched } from '@tangled-choir/core';
import type { AudioByIdentity, SharedAudio, WantedTreatment } from '@tangled-choir/jobs';
import { makeTreatments, share, wantedTreatments } from '@tangled-choir/jobs';
import { ProjectJobs } from '../engine/project-jobs';
import { TreatedStorage } from '../storage/treated-storage';

/** Samples that are kept, over all channels; the longest unused go first. */
const mostSamples = 64 * 2 ** 20;

/**
 * The treated clips of the open project by what they were made from and what was done to them: made once, as jobs, and shared by the engine,
 * by renders and by all siblings of a family. What was stretched is also kept in the browser, for the next time.
 */
export const TreatedClips = signalStore(
  withState({ made: new Map() as AudioByIdentity }),
  withMethods((store, jobs = inject(ProjectJobs), stored = inject(TreatedStorage)) => {
    const running = new Map<string, Promise<SharedAudio>>();
    /** What is played stays, however much it is: dropped, it would be made again, and drop what is played beside it. */
    const held = new Map<'sound' | 'other version', ReadonlySet<string>>();
    const isHeld = (key: string): boolean => [...held.values()].some((keys) => keys.has(key));

    const make = async (wanted: WantedTreatment): Promise<SharedAudio> => (await makeTreatments(jobs, [wanted])).get(wanted.key)!;

    /** Taken from the database, or made and put there. */
    const found = async (wanted: WantedTreatment): Promise<SharedAudio> => {
      const { key, clip } = wanted;
      if (!isStretched(clip)) return make(wanted);
      // A database that fails keeps nobody from hearing anything.
      const kept = await stored.load(key).catch(() => undefined);
      if (kept) return share(kept);
      const made = await make(wanted);
      stored.save(key, made).catch(() => undefined);
      return made;
    };

    const start = (wanted: WantedTreatment): Promise<SharedAudio> => {
      const { key } = wanted;
      const making = found(wanted).then((audio) => {
        patchState(store, ({ made: before }) => ({ made: trimmed(new Map([...before, [key, audio]]), isHeld) }));
        return audio;
      });
      running.set(key, making);
      const forget = (): boolean => running.delete(key);
      making.then(forget, forget);
      return making;
    };

    return {
      /** The treated clips of a sound that are there. */
      ready(sound: Sound, identities: ReadonlyMap<string, string>, audio: AudioByIdentity): AudioByIdentity {
        const made = store.made();
        const keys = made.size === 0 ? [] : wantedTreatments([sound], identities, audio).map(({ key }) => key);
        return new Map(keys.flatMap((key): [string, SharedAudio][] => (made.has(key) ? [[key, made.get(key)!]] : [])));
      },
      /** Keeps what somebody plays, in the place of what they played before. */
      hold: (by: 'sound' | 'other version', wanted: readonly WantedTreatment[]): void =>
        void held.set(by, new Set(wanted.map(({ key }) => key))),
      /** Makes what is not there yet. Rejects with JobCancelled when the project is closed meanwhile. */
      async make(wanted: readonly WantedTreatment[]): Promise<AudioByIdentity> {
        const all = wanted.map(async (each): Promise<[string, SharedAudio]> => {
          const { key } = each;
          return [key, store.made().get(key) ?? (await (running.get(key) ?? start(each)))];
        });
        return new Map(await Promise.all(all));
      },
    };
  }),
);

export type TreatedClips = InstanceType<typeof TreatedClips>;

function trimmed(made: Map<string, SharedAudio>, isHeld: (key: string) => boolean): Map<string, SharedAudio> {
  let samples = [...made.values()].reduce((sum, audio) => sum + samplesOf(audio), 0);
  for (const [key, audio] of made) {
    if (samples <= mostSamples) break;
    if (isHeld(key)) continue;
    made.delete(key);
    samples -= samplesOf(audio);
  }
  return made;
}

function samplesOf({ channels }: SharedAudio): number {
  return (channels[0]?.length ?? 0) * channels.length;
}
