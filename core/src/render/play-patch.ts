import type { Audio } from '../audio/audio';
import type { Bend } from '../automation/bend-course';
import { bendAddress, withBends } from '../automation/bend-course';
import { createProject, createSound, projectSampleRate } from '../project/create';
import { effectCatalogue } from '../catalogue';
import type { NewNote } from '../project/edits';
import { editNamed } from '../project/edits';
import { applyEdit, startHistory } from '../project/history';
import type { Patch } from '../project/patch/patch-schema';
import type { Role, Sound } from '../project/schema';
import type { Seconds } from '../units';
import { renderContext } from './library';
import { renderSound } from './render-sound';

/** Notes as they are played by themselves, without a project around them. */
export interface PatchTake {
  readonly patch: Patch;
  readonly notes: readonly NewNote[];
  /** How long the clip of notes is; what rings on comes behind it. */
  readonly length: Seconds;
  readonly bpm?: number;
  /** How its notes are bent along the clip. */
  readonly bends?: readonly Bend[];
  /** Chance of its own, 0 to 9999, in place of the patch's. */
  readonly seed?: number;
}

/** A sound that is nothing but one made layer. */
export function patchSound({ patch, notes, length, bpm, bends = [], seed }: PatchTake, name: string, role: Role = 'Body'): Sound {
  let history = startHistory({ ...createProject('take', name), sounds: [createSound('sound', name)] });
  const parameters = seed === undefined ? patch.parameters : { ...patch.parameters, chance: seed };
  const made = { sound: 'sound', name, role, start: 0, length, notes, patch: { ...patch, parameters } };
  history = applyEdit(history, editNamed('addMadeLayer'), made, effectCatalogue);
  if (bpm !== undefined) history = applyEdit(history, editNamed('setTempo'), { sound: 'sound', tempo: { bpm } }, effectCatalogue);
  if (bends.length > 0) {
    const address = bendAddress(history.project.sounds[0]!.layers[0]!.id);
    history = applyEdit(history, editNamed('addAutomation'), { sound: 'sound', address }, effectCatalogue);
    const lane = history.project.sounds[0]!.automation[0]!;
    const points = withBends(undefined, bends, 0, length);
    history = applyEdit(
      history,
      editNamed('setAutomationPoints'),
      { sound: 'sound', lane: lane.id, points, action: 'Bend' },
      effectCatalogue,
    );
  }
  return history.project.sounds[0]!;
}

/** Plays notes on a patch at the project's rate, in stereo, until they have died away. Throws RangeError when that takes too long to be held. */
export function playPatch(take: PatchTake, progress?: (share: number) => boolean): Audio {
  const context = renderContext({ sampleRate: projectSampleRate, sources: [] }, { get: () => undefined });
  return renderSound(patchSound(take, 'take'), context, { tail: 'ring out', ...(progress && { progress }) });
}
