import type { Decibels, Ratio, Seconds, Semitones } from '../../units';
import { stretchParameter } from '../address';
import type { Clip, Layer, Project, Sound } from '../schema';
import { clipDuration, sourceToAxis } from '../time/clip-times';
import { pullCopy } from './clip-pulls';
import type { ClipsArguments } from './clip-edits';
import { assertRoom, clipsLabel, cloneClip, fitFades, newClip } from './clip-edits';
import { checkRoom } from './chain-edits';
import { clipOf, defineEdit, EditError, layerOf, soundOf, contentOf, takeId } from './edit';
import { checkLayers } from './layer-edits';
import type { NewSource } from './source-edits';
import { addSources } from './source-edits';
import { assertHolds } from './stretch-edits';

/** Octaves above or below what is stacked, and how loud they are beside it. */
export interface StackedOctave {
  readonly octaves: -2 | -1 | 1 | 2;
  readonly gain: Decibels;
}

/** Below this the lowest layer of a stack is raised, and above it nothing of it is needed. */
const weightBelow = 120;
const weightCut = 2_500;

/**
 * Lays copies of a layer's clips one or two octaves below and above it, at their own length, each octave a layer of its own. The lowest gets weight: its depth is
 * raised, its height taken away.
 */
export const octaveStack = defineEdit<{ sound: string; layer: string; clips: readonly string[]; stack: readonly StackedOctave[] }>({
  label: ({ sound, layer }, project) => `Octave stack of “${layerOf(soundOf(project, sound), layer).name}”`,
  apply: (draft, { sound, layer: id, clips, stack }, catalogue) => {
    const target = soundOf(draft, sound);
    const layer = layerOf(target, id);
    if (layer.patch) throw new EditError(`“${layer.name}” is made of notes; octaves of it are parts of its patch.`);
    const copied = layer.clips.filter((clip) => clips.includes(clip.id));
    if (copied.length === 0) throw new EditError('There is no clip to stack octaves of.');
    const lowest = Math.min(...stack.map(({ octaves }) => octaves));
    const added = stack.map(({ octaves, gain }): Layer => {
      checkLayers(target);
      return {
        ...beside(draft, layer, `${layer.name} ${octaves > 0 ? '+' : '−'}${Math.abs(octaves)} oct`),
        role: octaves < 0 ? 'Weight' : 'Air',
        gain: Math.max(-96, Math.min(36, layer.gain + gain)),
        clips: copied.map((clip) => ({
          ...cloneClip(clip, takeId(draft, 'clip')),
          pitch: Math.max(-36, Math.min(36, clip.pitch + 12 * octaves)),
        })),
      };
    });
    target.layers.splice(target.layers.indexOf(layer) + 1, 0, ...added);
    for (const octave of added)
      for (const [c, clip] of copied.entries()) pullCopy(draft, target, { layer, clip }, { layer: octave, clip: octave.clips[c]! });
    const low = lowest < 0 ? added[stack.findIndex(({ octaves }) => octaves === lowest)] : undefined;
    if (!low || !catalogue.get('eq')) return;
    // The EQ's second band is a low shelf, its eighth a high cut.
    const parameters = { band2On: true, band2Frequency: weightBelow, band2Gain: 4, band8On: true, band8Frequency: weightCut };
    low.chain.push({ id: takeId(draft, 'step'), effect: 'eq', enabled: true, mix: 1, parameters });
    checkRoom(draft, { sound, owner: { layer: low.id } }, low.chain);
  },
});

export interface EchoSettings {
  readonly times: number;
  readonly interval: Seconds;
  readonly levelStep: Decibels;
  readonly pitchStep: Semitones;
  /** How many times as long each repeat is as the one before. */
  readonly lengthStep: Ratio;
}

/** Repeats clips at an interval, each repeat quieter, lower and longer or shorter than the one before, whatever of these is asked for. */
export const echoDown = defineEdit<ClipsArguments & { echo: EchoSettings }>({
  label: ({ sound, clips, echo }, project) => clipsLabel(`Echo ${echo.times} times:`, project, sound, clips),
  apply: (draft, { sound, clips, echo }) => {
    const { times, interval, levelStep, pitchStep, lengthStep } = echo;
    if (!(Number.isInteger(times) && times >= 1 && times <= 100)) throw new EditError(`A clip echoes 1 to 100 times, not ${times}.`);
    if (!(interval >= 0.001)) throw new EditError('The interval between echoes is shorter than 1 ms.');
    const target = soundOf(draft, sound);
    for (const id of clips) {
      const { clip, layer } = clipOf(target, id);
      assertRoom(layer, times);
      for (let n = 1; n <= times; n++) {
        const copy = cloneClip(clip, takeId(draft, 'clip'));
        copy.start = clip.start + n * interval;
        copy.gain = Math.max(-96, Math.min(36, clip.gain + n * levelStep));
        copy.pitch = Math.max(-36, Math.min(36, clip.pitch + n * pitchStep));
        const longer = lengthStep ** n;
        copy.stretch = Math.max(stretchParameter.min, Math.min(stretchParameter.max, clip.stretch * longer));
        for (const pin of copy.pins ?? []) pin.time *= longer;
        assertHolds(copy, contentOf(draft, { clip, layer }).name);
        fitFades(copy);
        layer.clips.push(copy);
        pullCopy(draft, target, { layer, clip }, { layer, clip: copy });
      }
    }
  },
});

export interface SwellArguments {
  readonly sound: string;
  readonly layer: string;
  /** What was printed of the clip, backwards in a room. */
  readonly source: NewSource;
  /** Where in the print the attack is. */
  readonly attack: Seconds;
  /** When the swell is to be over. */
  readonly end: Seconds;
  /** By how much it rises until then. */
  readonly rise: Semitones;
}

/** Adds a layer with a swell that leads into an attack: what was printed backwards in a room, turned round, from its faintest to the attack. */
export const addSwell = defineEdit<SwellArguments>({
  label: ({ source }) => `Add “${source.name}”`,
  apply: (draft, { sound, layer: id, source, attack, end, rise }, catalogue) => {
    const target = soundOf(draft, sound);
    checkLayers(target);
    const layer = layerOf(target, id);
    addSources.apply(draft, { sources: [source], made: true }, catalogue);
    const print = draft.sources.at(-1)!;
    const seconds = print.frames / draft.sampleRate;
    const clip = newClip(draft, print, 0, { from: attack, to: seconds });
    clip.reversed = true;
    clip.method = 'tones';
    if (rise !== 0)
      clip.curves = {
        pitch: [
          { at: clip.offset, value: 0 },
          { at: clip.offset + clip.length, value: -Math.max(-36, Math.min(36, rise)) },
        ],
      };
    // It must be whole where it meets the attack, and comes in out of nothing.
    clip.fadeIn = { length: Math.min(0.05, clip.length / 4), shape: 's-curve' };
    clip.fadeOut = { length: 0, shape: 's-curve' };
    placeEnd(clip, end);
    target.layers.splice(target.layers.indexOf(layer), 0, { ...beside(draft, layer, print.name), role: 'Motion', clips: [clip] });
  },
});

/** Lets a clip end at a moment; what would lie before the beginning of the axis is cut off. */
function placeEnd(clip: Clip, end: Seconds): void {
  const early = clipDuration(clip) - end;
  // Played backwards, the source's end is heard first.
  if (early > 0) clip.length = Math.max(0.001, clip.length - early);
  clip.start = Math.max(0, end - clipDuration(clip));
  fitFades(clip);
}

/** An empty layer that goes where another one goes. */
function beside(draft: Project, layer: Layer, name: string): Layer {
  return {
    id: takeId(draft, 'layer'),
    name,
    role: layer.role,
    gain: layer.gain,
    pan: layer.pan,
    muted: false,
    soloed: false,
    ...(layer.group !== undefined && { group: layer.group }),
    sends: layer.sends.map((send) => ({ ...send })),
    overlaps: layer.overlaps,
    clips: [],
    chain: [],
  };
}

/**
 * What is rendered for a swell into a clip: the clip alone, backwards, in a room of which nothing dry is heard. `attack` is when the content at
 * `at` (in the source's time) is heard in it.
 */
export function swellRecipe(
  sound: Sound,
  clip: Clip,
  layer: Layer,
  at: Seconds,
  decay: Seconds,
): { readonly recipe: Sound; readonly attack: Seconds } {
  const { pins: _pins, sync: _sync, group: _group, ...rest } = clip;
  const none = { length: 0, shape: 's-curve' as const };
  const backwards: Clip = { ...rest, start: 0, reversed: !clip.reversed, fadeIn: none, fadeOut: none };
  const room = { id: 'swell-room', effect: 'reverb', enabled: true, mix: 1, parameters: { decay, early: 0, preDelay: 0 } };
  const { group: _bus, ...alone } = layer;
  const { picture: _picture, guide: _guide, ...bare } = sound;
  const recipe: Sound = {
    ...bare,
    gain: 0,
    layers: [{ ...alone, gain: 0, pan: 0, muted: false, soloed: false, sends: [], clips: [backwards], chain: [room] }],
    buses: [],
    chain: [],
    automation: [],
    movers: [],
    pulls: [],
    marks: [],
    family: { ...sound.family, sways: [], siblings: [] },
  };
  return { recipe, attack: sourceToAxis(backwards, at) };
}
