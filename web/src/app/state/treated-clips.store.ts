import { inject } from '@angular/core';
import { patchState, signalStore, withMethods, withState } from '@ngrx/signals';
import type { Sound } from '@tangled-choir/core';
import { isStretched, stretchedLength } from '@tangled-choir/core';
import type { AudioByIdentity, SharedAudio, WantedTreatment } from '@tangled-choir/jobs';
import { JobCancelled, makeTreatments, share, wantedTreatments } from '@tangled-choir/jobs';
import { ProjectJobs } from '../engine/project-jobs';
import { Notices } from './notices';
import { longStretch } from './treated-pieces.store';
import { TreatedStorage } from '../storage/treated-storage';

/** Samples that are kept, over all channels; the longest unused go first. */
const mostSamples = 64 * 2 ** 20;

/** Who plays: the open sound, or the version that it is compared with. */
type Player = 'sound' | 'other version';

/** A treated clip that is being made, and for how many renders. */
interface Making {
  readonly audio: Promise<SharedAudio>;
  readonly ended: AbortController;
  renders: number;
}

/**
 * The treated clips of the open project by what they were made from and what was done to them: made once, as jobs, and shared by the engine,
 * by renders and by all siblings of a family. What was stretched is also kept in the browser, for the next time.
 */
export const TreatedClips = signalStore(
  withState({ made: new Map() as AudioByIdentity }),
  withMethods((store, jobs = inject(ProjectJobs), stored = inject(TreatedStorage), notices = inject(Notices)) => {
    /** What could not be made: told once, not at every edit. */
    const told = new Set<string>();
    const running = new Map<string, Making>();
    /** What is played stays, however much it is: dropped, it would be made again, and drop what is played beside it. */
    const held = new Map<Player, ReadonlySet<string>>();
    const isHeld = (key: string): boolean => [...held.values()].some((keys) => keys.has(key));

    const make = async (wanted: WantedTreatment, signal: AbortSignal): Promise<SharedAudio> => {
      // Of what is long, pieces are heard meanwhile: a worker is left for them.
      const background = isStretched(wanted.clip) && stretchedLength(wanted.clip) >= longStretch;
      return (await makeTreatments(jobs, [wanted], { signal, background })).get(wanted.key)!;
    };

    /** Taken from the database, or made and put there. */
    const found = async (wanted: WantedTreatment, signal: AbortSignal): Promise<SharedAudio> => {
      const { key, clip } = wanted;
      if (!isStretched(clip)) return make(wanted, signal);
      // A database that fails keeps nobody from hearing anything.
      const kept = await stored.load(key).catch(() => undefined);
      if (kept) return share(kept);
      const made = await make(wanted, signal);
      stored.save(key, made).catch(() => undefined);
      return made;
    };

    const start = (wanted: WantedTreatment): Making => {
      const { key } = wanted;
      const ended = new AbortController();
      const audio = found(wanted, ended.signal).then((made) => {
        patchState(store, ({ made: before }) => ({ made: trimmed(new Map([...before, [key, made]]), isHeld) }));
        return made;
      });
      const making: Making = { audio, ended, renders: 0 };
      running.set(key, making);
      const forget = (): void => {
        if (running.get(key) === making) running.delete(key);
      };
      audio.then(forget, forget);
      return making;
    };

    /** A clip that is heard by nobody must not be silent without a word; what is cancelled is not wanted any more. */
    const tellSilent = (key: string, error: unknown): void => {
      if (error instanceof JobCancelled || told.has(key)) return;
      told.add(key);
      notices.error(`A clip cannot be played: ${error instanceof Error ? error.message : String(error)}`);
    };

    const makingOf = (wanted: WantedTreatment): Making => running.get(wanted.key) ?? start(wanted);

    return {
      /** The treated clips of a sound that are there. */
      ready(sound: Sound, identities: ReadonlyMap<string, string>, audio: AudioByIdentity): AudioByIdentity {
        const made = store.made();
        const keys = made.size === 0 ? [] : wantedTreatments([sound], identities, audio).map(({ key }) => key);
        return new Map(keys.flatMap((key): [string, SharedAudio][] => (made.has(key) ? [[key, made.get(key)!]] : [])));
      },
      /**
       * Makes and keeps what somebody plays, in the place of what they played before: what is still being made of that, and is wanted for no render, is
       * given up, or every move of a dial would be worked at to its end.
       */
      hold(by: Player, wanted: readonly WantedTreatment[]): void {
        held.set(by, new Set(wanted.map(({ key }) => key)));
        for (const [key, { ended, renders }] of running)
          if (renders === 0 && !isHeld(key)) {
            running.delete(key);
            ended.abort();
          }
        for (const each of wanted)
          if (!store.made().has(each.key)) makingOf(each).audio.catch((error: unknown) => tellSilent(each.key, error));
      },
      /** What a render needs; what is not there yet is made. Rejects with JobCancelled when the project is closed meanwhile. */
      async make(wanted: readonly WantedTreatment[]): Promise<AudioByIdentity> {
        const all = wanted.map(async (each): Promise<[string, SharedAudio]> => {
          const { key } = each;
          const made = store.made().get(key);
          if (made) return [key, made];
          const making = makingOf(each);
          making.renders++;
          return [key, await making.audio.finally(() => making.renders--)];
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
