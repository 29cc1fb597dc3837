import { branchesOf, stepsOf } from '../chain/chain-tree';
import { dropStrangeReferences, dropStrangeSources } from '../chain/references';
import type { EffectStep } from '../chain/chain-schema';
import { pullersOf } from '../mover-address';
import type { Bus, Layer, Mover, Project, Sound } from '../schema';
import { checkRoom } from './chain-edits';
import { copyBus, copyChain, copyLanes, copyLayer, copyMover, copyPulls, copySound, FreshNames } from './copies';
import type { ChainOwner, ChainPlace } from './edit';
import { chainOf, checkPulls, checkSways, defineEdit, EditError, ownerAddress, ownerOf, soundOf, takeId } from './edit';
import { checkLayers } from './layer-edits';
import { copyDraws, copySways, settleSways } from './sways';

/** A copy of a sound with everything that belongs to it: marks, picture, sways and siblings too; it stands behind the original. */
export const duplicateSound = defineEdit<{ sound: string }>({
  label: ({ sound }, project) => `Duplicate “${soundOf(project, sound).name}”`,
  apply: (draft, { sound }) => {
    const original = soundOf(draft, sound);
    const names = namesFor(draft);
    const copy = copySound(original, `${original.name} copy`, names);
    if (original.picture) copy.picture = { ...original.picture };
    copy.marks = original.marks.map((mark) => ({ ...mark, id: names.of('mark', mark.id) }));
    copy.family = {
      seed: original.family.seed,
      sways: copySways(original.family.sways, '', names),
      siblings: original.family.siblings.map(({ roll, state, draws }) => ({
        roll,
        state,
        ...(draws && { draws: copyDraws(draws, names) }),
      })),
    };
    draft.sounds.splice(draft.sounds.indexOf(original) + 1, 0, copy);
  },
});

/** Layers on the clipboard: the sound as it was when they were copied, and which of its layers are meant. */
export interface CopiedLayers {
  readonly from: Sound;
  readonly layers: readonly string[];
}

/**
 * Pastes layers with their chains, states, lanes, pulls and sways. Within their sound they keep their group, their buses and their movers; into another one
 * those that they use are taken along. What they listen to and is not there is let go. Throws EditError when a source is not in the project.
 */
export const pasteLayers = defineEdit<{ sound: string; copied: CopiedLayers; behind?: string }>({
  label: ({ copied: { from, layers } }) =>
    layers.length === 1 ? `Paste “${from.layers.find(({ id }) => id === layers[0])?.name ?? 'layer'}”` : `Paste ${layers.length} layers`,
  apply: (draft, { sound, copied: { from, layers: ids }, behind }) => {
    const target = soundOf(draft, sound);
    const layers = from.layers.filter(({ id }) => ids.includes(id));
    const strange = layers
      .flatMap(({ clips }) => clips)
      .find((clip) => clip.source !== undefined && !draft.sources.some(({ id }) => id === clip.source));
    if (strange) throw new EditError('A copied layer cannot be pasted: a source of it is not in this project.');
    const names = namesFor(draft);
    const elsewhere = from.id !== target.id;
    // Named before anything is copied, because chains can refer to any of them.
    for (const layer of layers) names.of('layer', layer.id);
    const buses = elsewhere ? busesOf(from, layers) : [];
    const movers = elsewhere ? moversOf(from, [...layers.map(({ id }) => `layer/${id}/`), ...buses.map(({ id }) => `bus/${id}/`)]) : [];
    for (const bus of buses) names.of('bus', bus.id);
    const prefixes = [
      ...layers.map(({ id }) => `layer/${id}/`),
      ...buses.map(({ id }) => `bus/${id}/`),
      ...movers.map(({ id, kind }) => `${kind}/${id}/`),
    ];
    target.movers.push(...movers.map((mover) => copyMover(mover, names)));
    target.buses.push(...buses.map((bus) => copyBus(bus, names)));
    const pasted = layers.map((layer) => pastedLayer(layer, target, names, elsewhere));
    const index = target.layers.findIndex(({ id }) => id === behind);
    for (const layer of pasted) {
      checkLayers(target);
      target.layers.splice(index < 0 ? target.layers.length : index + 1 + pasted.indexOf(layer), 0, layer);
    }
    for (const { chain } of [...pasted, ...target.buses]) dropStrangeReferences(chain, target, draft.sources);
    for (const { patch } of pasted) if (patch) dropStrangeSources(patch, target, draft.sources);
    for (const prefix of prefixes) {
      target.automation.push(...copyLanes(from.automation, prefix, names));
      target.pulls.push(...copyPulls(from.pulls, prefix, names).filter(({ mover }) => target.movers.some(({ id }) => id === mover)));
      target.family.sways.push(...copySways(from.family.sways, prefix, names));
    }
    dropStrangers(target);
    settleSways(target);
    checkSways(target);
    checkPulls(target);
  },
});

/** Steps on the clipboard: the sound as it was, whose chain they are from, and which they are. */
export interface CopiedSteps {
  readonly from: Sound;
  readonly owner: ChainOwner;
  readonly steps: readonly EffectStep[];
}

/** Pastes steps into a chain, from `index` on, with their lanes and sways, and with their pulls where their movers are. */
export const pasteSteps = defineEdit<ChainPlace & { branch?: string; copied: CopiedSteps; index?: number }>({
  label: ({ sound, owner, copied: { steps } }, project) => {
    const name = ownerOf(soundOf(project, sound), owner).name;
    return `Paste ${steps.length === 1 ? 'a step' : `${steps.length} steps`} into “${name}”`;
  },
  apply: (draft, { sound, owner, branch, copied, index }) => {
    const target = soundOf(draft, sound);
    const chain = chainOf(target, owner, branch);
    const names = namesFor(draft);
    const fresh = copyChain(copied.steps, names);
    dropStrangeReferences(fresh, target, draft.sources);
    chain.splice(index ?? chain.length, 0, ...fresh);
    checkRoom(draft, { sound, owner }, chain);
    const from = ownerAddress(copied.owner);
    const to = ownerAddress(owner);
    const moved = <T extends { address: string }>(copies: readonly T[]): T[] =>
      copies.map((copy) => ({ ...copy, address: copy.address.replace(`${from}/`, `${to}/`) }));
    const prefixes = [
      ...stepsOf(copied.steps).map(({ id }) => `${from}/chain/${id}/`),
      ...branchesOf(copied.steps).map(({ id }) => `${from}/branch/${id}/`),
    ];
    for (const prefix of prefixes) {
      target.automation.push(...moved(copyLanes(copied.from.automation, prefix, names)));
      const pulls = copyPulls(copied.from.pulls, prefix, names).filter(({ mover }) => target.movers.some(({ id }) => id === mover));
      target.pulls.push(...moved(pulls));
      target.family.sways.push(...moved(copySways(copied.from.family.sways, prefix, names)));
    }
    settleSways(target);
    checkSways(target);
  },
});

const namesFor = (draft: Project): FreshNames => new FreshNames((kind) => takeId(draft, kind));

function pastedLayer(layer: Layer, target: Sound, names: FreshNames, elsewhere: boolean): Layer {
  const copy = copyLayer(layer, names);
  const name = target.layers.some((other) => other.name === layer.name) ? `${layer.name} copy`.slice(0, 300) : layer.name;
  const sends = layer.sends.map((send) => ({ ...send, bus: elsewhere ? names.of('bus', send.bus) : send.bus }));
  const pasted: Layer = { ...copy, name, sends };
  delete pasted.group;
  if (layer.group === undefined) return pasted;
  const group = elsewhere ? names.of('bus', layer.group) : layer.group;
  return target.buses.some(({ id }) => id === group) ? { ...pasted, group } : pasted;
}

/** The groups that layers go through, and the shared buses that they or these send to. */
function busesOf(sound: Sound, layers: readonly Layer[]): Bus[] {
  const groups = sound.buses.filter((bus) => layers.some(({ group }) => group === bus.id));
  const sent = new Set([...layers, ...groups].flatMap(({ sends }) => sends.map(({ bus }) => bus)));
  return [...groups, ...sound.buses.filter(({ id }) => sent.has(id))];
}

/** The movers that pull at something below one of the prefixes, and those that pull at them. */
function moversOf(sound: Sound, prefixes: readonly string[]): Mover[] {
  const pullers = pullersOf(sound, (address) => prefixes.some((prefix) => address.startsWith(prefix)));
  return sound.movers.filter(({ id }) => pullers.has(id));
}

/** Lets go of layers, groups and buses that are not in a sound: followers, groups and sends must lead somewhere. */
export function dropStrangers(target: Sound): void {
  const here = new Set([...target.layers.map(({ id }) => `layer/${id}`), ...target.buses.map(({ id }) => `bus/${id}`)]);
  for (const mover of target.movers) if (mover.kind === 'follower' && !here.has(mover.listens)) mover.listens = '';
  for (const owner of [...target.layers, ...target.buses]) owner.sends = owner.sends.filter(({ bus }) => here.has(`bus/${bus}`));
}
