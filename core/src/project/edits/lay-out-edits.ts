import type { Seconds } from '../../units';
import { gainParameter } from '../address';
import { dropStrangeReferences } from '../chain/references';
import { fitValue } from '../parameters';
import type { Layer, Sound } from '../schema';
import { copyLanes, copyLayer, copyPulls, copySound, FreshNames } from './copies';
import { checkPulls, defineEdit, EditError, soundOf, takeId } from './edit';
import { checkLayers } from './layer-edits';
import { dropStrangers } from './paste-edits';

export interface LayOutArguments {
  readonly sound: string;
  /** The sound with the draws of each sibling taken. */
  readonly realised: readonly Sound[];
  /** From the beginning of one to that of the next. */
  readonly every: Seconds;
}

/**
 * Makes a sound in which siblings follow one another, each in layers of its own; layers that are absent in a sibling are left out, and a level of its own is that of its
 * layers. Groups, shared buses, movers and the chain of the whole sound are there once, as in the original.
 */
export const layOutSiblings = defineEdit<LayOutArguments>({
  label: ({ sound, realised }, project) => `${realised.length} siblings of “${soundOf(project, sound).name}”, one after the other`,
  apply: (draft, { sound, realised, every }) => {
    const original = soundOf(draft, sound);
    if (realised.length === 0) throw new EditError(`No sibling of “${original.name}” is kept.`);
    if (!(every > 0)) throw new EditError(`Siblings follow one another at a distance, not at ${every} s.`);
    const names = new FreshNames((kind) => takeId(draft, kind));
    const whole = copySound(withoutLayers(original), `${original.name} × ${realised.length}`, names);
    for (const [place, sibling] of realised.entries()) layOut(whole, original, sibling, place * every, names.fork());
    for (const { chain } of [whole, ...whole.buses, ...whole.layers]) dropStrangeReferences(chain, whole, draft.sources);
    dropStrangers(whole);
    draft.sounds.splice(draft.sounds.indexOf(original) + 1, 0, whole);
  },
});

/** What of a sound is there once, however many siblings there are. */
function withoutLayers(sound: Sound): Sound {
  const isShared = ({ address }: { address: string }): boolean => !address.startsWith('layer/');
  return { ...sound, layers: [], automation: sound.automation.filter(isShared), pulls: sound.pulls.filter(isShared) };
}

function layOut(whole: Sound, original: Sound, sibling: Sound, at: Seconds, names: FreshNames): void {
  const there = sibling.layers.filter(({ muted }) => !muted);
  for (const { id } of there) names.of('layer', id);
  for (const layer of there) {
    checkLayers(whole);
    const gain = sibling.gain - original.gain;
    const copy = placed(layer, at, gain, names);
    whole.layers.push(copy);
    const lanes = copyLanes(sibling.automation, `layer/${layer.id}/`, names);
    // What moves along a lane is moved with its whole lane.
    for (const lane of lanes) if (lane.address === `layer/${copy.id}/gain`) lane.trim += gain;
    for (const point of lanes.flatMap(({ points }) => points)) point.time += at;
    whole.automation.push(...lanes);
    whole.pulls.push(...copyPulls(sibling.pulls, `layer/${layer.id}/`, names));
    checkPulls(whole);
  }
}

function placed(layer: Layer, at: Seconds, gain: number, names: FreshNames): Layer {
  const copy = copyLayer(layer, names);
  for (const clip of copy.clips) clip.start += at;
  return {
    ...copy,
    gain: Number(fitValue(gainParameter, copy.gain + gain)),
    sends: layer.sends.map((send) => ({ ...send, bus: names.of('bus', send.bus) })),
    ...(layer.group !== undefined && { group: names.of('bus', layer.group) }),
  };
}
