import { branchesOf } from '../chain/chain-tree';
import { redirectReferences } from '../chain/references';
import type { BusKind, Layer, Project, Sound } from '../schema';
import type { ChainOwner } from './edit';
import { busOf, cleanName, defineEdit, EditError, forgetBelow, layerOf, ownerAddress, soundOf, takeId } from './edit';

export interface BusArguments {
  readonly sound: string;
  readonly bus: string;
}

const mostBuses = 200;

function nameOf(project: Project, { sound, bus }: BusArguments): string {
  return busOf(soundOf(project, sound), bus).name;
}

function newBus(draft: Project, target: Sound, kind: BusKind, name: string): string {
  if (target.buses.length >= mostBuses) throw new EditError(`“${target.name}” has ${mostBuses} groups and buses already.`);
  const id = takeId(draft, 'bus');
  target.buses.push({ id, name: cleanName(name), kind, gain: 0, pan: 0, muted: false, soloed: false, sends: [], chain: [] });
  return id;
}

/** Puts layers under one fader and one chain, where the first of them lies. A group that is left without layers goes. */
export const groupLayers = defineEdit<{ sound: string; layers: readonly string[]; name: string }>({
  label: ({ layers, name }) => `Group ${layers.length === 1 ? 'one layer' : `${layers.length} layers`} as “${name}”`,
  apply: (draft, { sound, layers, name }) => {
    const target = soundOf(draft, sound);
    const members = target.layers.filter((layer) => layers.includes(layer.id));
    const [first] = members;
    if (!first) throw new EditError('No layer is chosen to be grouped.');
    const group = newBus(draft, target, 'group', name);
    for (const layer of members) layer.group = group;
    gather(target, members, target.layers.indexOf(first));
    dropEmptyGroups(target);
  },
});

/** Puts a layer into a group, behind its other layers, or takes it out of the one that it is in. */
export const setLayerGroup = defineEdit<{ sound: string; layer: string; group: string | undefined }>({
  label: ({ sound, layer, group }, project) => {
    const target = soundOf(project, sound);
    const { name } = layerOf(target, layer);
    return group === undefined ? `Take “${name}” out of its group` : `“${name}” into “${busOf(target, group).name}”`;
  },
  apply: (draft, { sound, layer, group }) => {
    const target = soundOf(draft, sound);
    const moved = layerOf(target, layer);
    const old = moved.group;
    const mates = target.layers.filter((other) => other.group === (group ?? old) && other !== moved);
    if (group === undefined) delete moved.group;
    else if (busOf(target, group).kind === 'group') moved.group = group;
    else throw new EditError(`“${busOf(target, group).name}” is a shared bus; layers send to it, they do not go into it.`);
    const last = mates.at(-1);
    if (last) {
      target.layers.splice(target.layers.indexOf(moved), 1);
      target.layers.splice(target.layers.indexOf(last) + 1, 0, moved);
    }
    dropEmptyGroups(target);
  },
});

/** Dissolves a group (its layers stay) or takes away a shared bus with all that is sent to it. */
export const removeBus = defineEdit<BusArguments>({
  label: ({ sound, bus }, project) => {
    const { kind, name } = busOf(soundOf(project, sound), bus);
    return `${kind === 'group' ? 'Dissolve group' : 'Remove bus'} “${name}”`;
  },
  apply: (draft, { sound, bus }) => {
    const target = soundOf(draft, sound);
    busOf(target, bus);
    for (const layer of target.layers) if (layer.group === bus) delete layer.group;
    dropBus(target, bus);
  },
});

/** A bus that layers and groups can send to, such as one reverb for all. */
export const addSharedBus = defineEdit<{ sound: string; name: string }>({
  label: ({ name }) => `New bus “${name}”`,
  apply: (draft, { sound, name }) => {
    newBus(draft, soundOf(draft, sound), 'shared', name);
  },
});

/** Begins to send a layer or a group to a shared bus, at 0 dB, or ends it. */
export const setSend = defineEdit<{ sound: string; owner: ChainOwner; bus: string; on: boolean }>({
  label: ({ on, sound, bus }, project) => `${on ? 'Send to' : 'End sending to'} “${busOf(soundOf(project, sound), bus).name}”`,
  apply: (draft, { sound, owner, bus, on }) => {
    const target = soundOf(draft, sound);
    if (owner === 'sound') throw new EditError('The whole sound cannot send to a bus of its own.');
    const from = 'layer' in owner ? layerOf(target, owner.layer) : busOf(target, owner.bus);
    if (busOf(target, bus).kind !== 'shared')
      throw new EditError(`“${busOf(target, bus).name}” is a group; only shared buses can be sent to.`);
    if ('kind' in from && from.kind === 'shared') throw new EditError(`“${from.name}” is a shared bus and cannot send on.`);
    from.sends = from.sends.filter((send) => send.bus !== bus);
    if (on) from.sends.push({ bus, gain: 0 });
    else forgetBelow(target, `${ownerAddress(owner)}/send/${bus}`);
  },
});

export const renameBus = defineEdit<BusArguments & { name: string }>({
  label: ({ name }) => `Rename to “${name}”`,
  apply: (draft, { sound, bus, name }) => {
    busOf(soundOf(draft, sound), bus).name = cleanName(name);
  },
});

export const muteBus = defineEdit<BusArguments & { muted: boolean }>({
  label: (args, project) => `${args.muted ? 'Mute' : 'Unmute'} “${nameOf(project, args)}”`,
  apply: (draft, { sound, bus, muted }) => {
    busOf(soundOf(draft, sound), bus).muted = muted;
  },
});

/** Solos a layer or a group. While solos are set aside, it begins a new set of them. */
export const solo = defineEdit<{ sound: string; owner: Exclude<ChainOwner, 'sound'>; soloed: boolean }>({
  label: ({ sound, owner, soloed }, project) => `${soloed ? 'Solo' : 'End solo of'} “${channelOf(soundOf(project, sound), owner).name}”`,
  apply: (draft, { sound, owner, soloed }) => {
    const target = soundOf(draft, sound);
    beginSolos(target);
    channelOf(target, owner).soloed = soloed;
  },
});

/** Sets all solos aside, or takes up those that were set aside. */
export const setSoloing = defineEdit<{ sound: string; soloing: boolean }>({
  label: ({ soloing }) => (soloing ? 'Solo again' : 'Set solos aside'),
  apply: (draft, { sound, soloing }) => {
    soundOf(draft, sound).soloing = soloing;
  },
});

/** Ends all solos for good, of layers, groups and branches. */
export const clearSolos = defineEdit<{ sound: string }>({
  label: () => 'End all solos',
  apply: (draft, { sound }) => {
    const target = soundOf(draft, sound);
    endSolos(target);
    target.soloing = true;
  },
});

/** Makes solos heard from now on; those that were set aside are forgotten. */
export function beginSolos(target: Sound): void {
  if (!target.soloing) endSolos(target);
  target.soloing = true;
}

function endSolos(target: Sound): void {
  const owners = [...target.layers, ...target.buses];
  const branches = [target, ...owners].flatMap(({ chain }) => branchesOf(chain));
  for (const each of [...owners, ...branches]) each.soloed = false;
}

function channelOf(sound: Sound, owner: Exclude<ChainOwner, 'sound'>): Layer | Sound['buses'][number] {
  return 'layer' in owner ? layerOf(sound, owner.layer) : busOf(sound, owner.bus);
}

/** Moves layers together, so that a group is one stretch of lanes. */
function gather(target: Sound, members: readonly Layer[], index: number): void {
  const ids = new Set(members.map((layer) => layer.id));
  const before = target.layers.slice(0, index).filter((layer) => !ids.has(layer.id));
  const behind = target.layers.slice(index).filter((layer) => !ids.has(layer.id));
  target.layers = [...before, ...members, ...behind];
}

/** Takes a bus away, and everything that led to it. */
export function dropBus(target: Sound, bus: string): void {
  target.buses = target.buses.filter((other) => other.id !== bus);
  for (const other of [...target.layers, ...target.buses]) other.sends = other.sends.filter((send) => send.bus !== bus);
  forgetBelow(target, `bus/${bus}/`);
  redirectReferences(target, { kind: 'bus', id: bus }, '');
  target.automation = target.automation.filter((lane) => !lane.address.endsWith(`/send/${bus}`));
  target.pulls = target.pulls.filter((pull) => !pull.address.endsWith(`/send/${bus}`));
  target.family.sways = target.family.sways.filter((sway) => !sway.address.endsWith(`/send/${bus}`));
}

/** Takes away groups that no layer is in any more. */
export function dropEmptyGroups(target: Sound): void {
  for (const bus of target.buses)
    if (bus.kind === 'group' && !target.layers.some((layer) => layer.group === bus.id)) dropBus(target, bus.id);
}
