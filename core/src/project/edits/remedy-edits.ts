import type { Decibels, Hertz } from '../../units';
import { decibels as decibelsRange } from '../parameters';
import { checkRoom } from './chain-edits';
import { fitFades } from './clip-edits';
import { defineEdit, EditError, layerOf, soundOf, takeId } from './edit';

const bandCount = 16;
const duckBy: Decibels = -8;
const gainRange = decibelsRange({ label: 'Gain', min: -24, max: 24, default: 0 });

export interface Stretch {
  readonly from: Hertz;
  readonly to: Hertz;
}

/**
 * Makes room for another layer: turns a band of this layer down with a bell of its EQ. An EQ that has a band to spare is used, otherwise
 * a new one is put at the end of the chain.
 */
export const makeRoom = defineEdit<{ sound: string; layer: string; band: Stretch; gain: Decibels }>({
  label: ({ sound, layer, band }, project) =>
    `Make room in “${layerOf(soundOf(project, sound), layer).name}” at ${Math.round(band.from)}–${Math.round(band.to)} Hz`,
  apply: (draft, { sound, layer, band, gain }, catalogue) => {
    const { chain } = layerOf(soundOf(draft, sound), layer);
    if (!catalogue.get('eq')) throw new EditError('There is no EQ to cut with.');
    const spare = (parameters: Readonly<Record<string, unknown>>): number =>
      Array.from({ length: bandCount }, (_, i) => i + 1).find((band) => parameters[`band${band}On`] !== true) ?? 0;
    let step = chain.find(({ effect, enabled, parameters }) => effect === 'eq' && enabled && spare(parameters) > 0);
    if (!step) {
      step = { id: takeId(draft, 'step'), effect: 'eq', enabled: true, mix: 1, parameters: {} };
      chain.push(step);
      checkRoom(draft, { sound, owner: { layer } }, chain);
    }
    const name = `band${spare(step.parameters)}`;
    const centre = Math.sqrt(band.from * band.to);
    Object.assign(step.parameters, {
      [`${name}On`]: true,
      [`${name}Kind`]: 'bell',
      [`${name}Frequency`]: Math.max(20, Math.min(20_000, centre)),
      [`${name}Gain`]: Math.max(gainRange.min, Math.min(gainRange.max, gain)),
      [`${name}Q`]: Math.max(0.3, Math.min(6, centre / (band.to - band.from))),
    });
  },
});

/** Lets a layer give way in a band while another one sounds, and only then. */
export const duckUnder = defineEdit<{ sound: string; layer: string; key: string; band: Stretch }>({
  label: ({ sound, layer, key }, project) =>
    `Duck “${layerOf(soundOf(project, sound), layer).name}” under “${layerOf(soundOf(project, sound), key).name}”`,
  apply: (draft, { sound, layer, key, band }, catalogue) => {
    const target = soundOf(draft, sound);
    if (!catalogue.get('ducker')) throw new EditError('There is nothing to duck with.');
    const { chain } = layerOf(target, layer);
    chain.push({
      id: takeId(draft, 'step'),
      effect: 'ducker',
      enabled: true,
      mix: 1,
      parameters: {
        key: `layer/${layerOf(target, key).id}`,
        what: 'one band',
        from: Math.max(20, Math.min(10_000, band.from)),
        to: Math.max(40, Math.min(20_000, band.to)),
        depth: duckBy,
        threshold: -50,
      },
    });
    checkRoom(draft, { sound, owner: { layer } }, chain);
  },
});

/** Plays all clips of a layer faster or slower by some semitones; pitch follows, and they get shorter or longer. */
export const transposeLayer = defineEdit<{ sound: string; layer: string; semitones: number }>({
  label: ({ sound, layer, semitones }, project) =>
    `Move “${layerOf(soundOf(project, sound), layer).name}” ${semitones > 0 ? 'up' : 'down'} ${Math.abs(semitones)} st`,
  apply: (draft, { sound, layer, semitones }) => {
    for (const clip of layerOf(soundOf(draft, sound), layer).clips) {
      if (clip.locked) throw new EditError('A clip of this layer is locked; unlock it first.');
      clip.speed = Math.max(-36, Math.min(36, clip.speed + semitones));
      fitFades(clip);
    }
  },
});
