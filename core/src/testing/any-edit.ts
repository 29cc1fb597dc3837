import { effectCatalogue } from '../catalogue';
import { hashText } from '../formats/hash';
import { swayOffers } from '../kin/sway-offers';
import { siblingSound } from '../kin/take-draws';
import { findProperty, isAutomatable, isPullable, listAddresses } from '../project/address';
import { branchesOf, stepsOf } from '../project/chain/chain-tree';
import { isMoverAddress, mayPull } from '../project/mover-address';
import type { EditArguments, EditName } from '../project/edits';
import type { Remedy } from '../project/edits';
import { EditError, editNamed, edits, remedies } from '../project/edits';
import type { History } from '../project/history';
import { applyEdit } from '../project/history';
import { clipCurves, isChanced, roles } from '../project/schema';
import { partKinds } from '../synthesis';
import { patchPresets } from '../synthesis/presets';
import type { NewSource } from '../project/edits';
import type { Print } from '../project/schema';
import { sourceFor } from './project';
import { scaleKinds } from '../tuning';
import { conductArguments } from './any-conduct-edit';
import { deliveryArguments } from './any-delivery-edit';
import { mono, noise } from './signals';

/** Every edit by the name that the registry has it under: none can be forgotten here. */
const names = Object.keys(edits).sort() as EditName[];

const remedyNames = Object.keys(remedies) as Remedy[];

type AnyArguments = { readonly [N in EditName]: () => EditArguments<N> | undefined };

export function make<N extends EditName>(history: History, name: N, args: EditArguments<N>, gesture?: string): History {
  return applyEdit(history, editNamed(name), args, effectCatalogue, gesture);
}

/** Any edit of any objects of the project at hand, chosen by three numbers; what cannot be done leaves everything as it was. */
export function anyEdit(history: History, kind: number, pick: number, amount: number): History {
  const name = names[kind % names.length]!;
  if (history.project.sounds.length === 0) return make(history, 'addSound', { name: `Sound ${pick}` });
  try {
    return makeAny(history, name, argumentsFor(history, pick, amount));
  } catch (error) {
    if (error instanceof EditError) return history;
    throw error;
  }
}

/** Names of the edits that a project of `history` has something for. */
export function possibleEdits(history: History, pick: number, amount: number): EditName[] {
  const all = argumentsFor(history, pick, amount);
  return names.filter((name) => all[name]() !== undefined);
}

function makeAny<N extends EditName>(history: History, name: N, all: AnyArguments): History {
  const args = all[name]();
  return args === undefined ? history : make<N>(history, name, args);
}

function argumentsFor({ project }: History, pick: number, amount: number): AnyArguments {
  const sound = project.sounds[pick % project.sounds.length]!;
  const layer = sound.layers[pick % Math.max(1, sound.layers.length)];
  const clips = sound.layers.flatMap((each) => each.clips);
  const clip = clips[pick % Math.max(1, clips.length)];
  const some = clips.slice(0, 1 + (pick % 3)).map(({ id }) => id);
  const source = project.sources[pick % Math.max(1, project.sources.length)];
  const s = sound.id;
  const time = amount * 3;
  const print: Print = { part: 'whole sound', recipe: sound, sources: project.sources.map(({ id, name, audio }) => ({ id, name, audio })) };
  const made: NewSource = {
    ...sourceFor(`Print ${pick}`, mono(noise(480))),
    origin: { file: 'printed here', sampleRate: 48_000, encoding: '32 bit float', print },
  };
  const owner = layer && pick % 3 ? ({ layer: layer.id } as const) : ('sound' as const);
  const chain = owner === 'sound' ? sound.chain : layer!.chain;
  const steps = stepsOf(chain);
  const step = steps[pick % Math.max(1, steps.length)];
  const host = steps.find(({ branches }) => branches);
  const branches = branchesOf(chain);
  const branch = branches[pick % Math.max(1, branches.length)];
  const addresses = listAddresses(sound, effectCatalogue);
  const madeLayers = sound.layers.filter(({ patch }) => patch);
  const madeLayer = madeLayers[pick % Math.max(1, madeLayers.length)];
  const inMade = madeLayer && { sound: s, layer: madeLayer.id };
  const patchParts = madeLayer?.patch?.parts ?? [];
  const part = patchParts[pick % Math.max(1, patchParts.length)];
  const curve = madeLayer?.patch?.curves[pick % Math.max(1, madeLayer.patch.curves.length)];
  const presetPatch = patchPresets[pick % patchPresets.length]!;
  const noteClips = clips.filter(({ notes }) => notes);
  const noteClip = noteClips[pick % Math.max(1, noteClips.length)];
  const playedNote = noteClip?.notes?.[pick % Math.max(1, noteClip.notes.length)];
  const bus = sound.buses[pick % Math.max(1, sound.buses.length)];
  const group = sound.buses.find(({ kind: own }) => own === 'group');
  const shared = sound.buses.find(({ kind: own }) => own === 'shared');
  const template = project.templates[pick % Math.max(1, project.templates.length)];
  const lane = sound.automation[pick % Math.max(1, sound.automation.length)];
  const automatable = addresses.filter((address) => isAutomatable(findProperty(sound, address, effectCatalogue)!));
  const free = automatable.filter((address) => !sound.automation.some((other) => other.address === address))[pick];
  return {
    addSound: () => ({ name: 'More' }),
    addLayer: () => (source ? { sound: s, source: source.id, start: time } : undefined),
    addClip: () => (layer && source ? { sound: s, layer: layer.id, source: source.id, start: time } : undefined),
    moveClips: () => (clip ? { sound: s, to: [{ clip: clip.id, start: time, ...(layer && { layer: layer.id }) }] } : undefined),
    trimClips: () => (clip ? { sound: s, side: pick % 2 ? 'start' : 'end', to: [{ clip: clip.id, time }] } : undefined),
    slipClips: () => (clip ? { sound: s, to: [{ clip: clip.id, offset: time }] } : undefined),
    fadeClips: () => (clip ? { sound: s, clips: some, side: pick % 2 ? 'in' : 'out', length: amount } : undefined),
    reverseClips: () => (clip ? { sound: s, clips: some } : undefined),
    fitClips: () => (clip ? { sound: s, clips: some, duration: amount + 0.01 } : undefined),
    loopClip: () =>
      clip
        ? {
            sound: s,
            clip: clip.id,
            loop: pick % 3 ? { from: amount / 4, to: amount, crossfade: 0.01, duration: time } : undefined,
          }
        : undefined,
    octaveStack: () =>
      clip && layer ? { sound: s, layer: layer.id, clips: [clip.id], stack: [{ octaves: pick % 2 ? -1 : 2, gain: -amount }] } : undefined,
    echoDown: () =>
      clip
        ? { sound: s, clips: some, echo: { times: 1 + (pick % 3), interval: amount + 0.01, levelStep: -3, pitchStep: -2, lengthStep: 1.2 } }
        : undefined,
    addSwell: () => (layer ? { sound: s, layer: layer.id, source: made, attack: 0.001, end: time + 0.1, rise: 12 } : undefined),
    stretchClips: () =>
      clip
        ? { sound: s, clips: some, settings: pick % 2 ? { stretch: amount + 0.25, wear: 0.1 } : { pitch: pick - 3, keepFormants: true } }
        : undefined,
    stretchBetween: () => (clip ? { sound: s, to: [{ clip: clip.id, from: time, to: time + amount + 0.01 }] } : undefined),
    setClipCurve: () =>
      clip
        ? {
            sound: s,
            clip: clip.id,
            curve: clipCurves[pick % clipCurves.length]!,
            points: pick % 4 ? [time, amount].map((at) => ({ at, value: amount * 12 - pick })) : [],
          }
        : undefined,
    tuneClips: () =>
      clip
        ? { sound: s, to: 'A3', tunings: [{ clip: clip.id, pitch: 80 * amount - 40, points: pick % 2 ? [{ at: time, value: 3 }] : [] }] }
        : undefined,
    setPins: () => (clip ? { sound: s, clip: clip.id, pins: pick % 3 ? [{ at: time, time: amount }] : [] } : undefined),
    makeRoom: () => (layer ? { sound: s, layer: layer.id, band: { from: 80, to: 80 + amount * 400 + 10 }, gain: -4 } : undefined),
    duckUnder: () => {
      const other = sound.layers.find((each) => each !== layer);
      const band = { from: 80, to: 200 + pick };
      return layer && other ? { sound: s, layer: layer.id, key: other.id, band } : undefined;
    },
    transposeLayer: () => (layer ? { sound: s, layer: layer.id, semitones: 12 - pick } : undefined),
    addMover: () => ({ sound: s, kind: (['tide', 'rein', 'walk'] as const)[pick % 3]!, name: 'Swell' }),
    setMover: () =>
      sound.movers[0]
        ? {
            sound: s,
            mover: sound.movers[0].id,
            settings: pick % 2 ? { length: amount, phase: 0.5 } : { value: 0.3 },
          }
        : undefined,
    removeMover: () => (sound.movers[0] ? { sound: s, mover: sound.movers[0].id } : undefined),
    setPull: () => {
      const [mover] = sound.movers;
      const pullable = addresses.filter(
        (address) => isPullable(findProperty(sound, address, effectCatalogue)!) && !isMoverAddress(address),
      );
      const address = mover && pullable.filter((each) => mayPull(mover.kind, each))[pick % 7];
      return mover && address !== undefined ? { sound: s, mover: mover.id, address, depth: pick % 4 ? amount * 6 : undefined } : undefined;
    },
    shapePull: () => {
      const [pull] = sound.pulls;
      const shape = pick % 2 ? { from: amount, bend: -amount } : { to: amount };
      return pull ? { sound: s, mover: pull.mover, address: pull.address, shape } : undefined;
    },
    addMadeLayer: () => {
      const { name, role, patch, notes } = presetPatch;
      return { sound: s, start: time, length: 1, name, role, patch, notes };
    },
    setPatch: () => (inMade ? { ...inMade, name: presetPatch.name, patch: presetPatch.patch } : undefined),
    addPart: () => (inMade ? { ...inMade, kind: partKinds[pick % partKinds.length]!.id } : undefined),
    removePart: () => (inMade && part ? { ...inMade, part: part.id } : undefined),
    movePart: () => (inMade && part ? { ...inMade, part: part.id, index: pick % 3 } : undefined),
    setPart: () =>
      inMade && part ? { ...inMade, part: part.id, changes: pick % 2 ? { enabled: pick % 3 > 0 } : { name: `Part ${pick}` } } : undefined,
    setModulation: () =>
      inMade && part
        ? { ...inMade, part: part.id, from: patchParts[(pick + 1) % patchParts.length]!.id, amount: pick % 3 ? amount * 8 : 0 }
        : undefined,
    addCurve: () => inMade,
    setCurve: () => (inMade && curve ? { ...inMade, curve: curve.id, changes: { length: amount * 4, rounds: pick % 2 > 0 } } : undefined),
    removeCurve: () => (inMade && curve ? { ...inMade, curve: curve.id } : undefined),
    setCurvePull: () =>
      inMade && curve && part
        ? { ...inMade, curve: curve.id, part: part.id, parameter: 'tuning', depth: pick % 4 ? amount * 12 : 0 }
        : undefined,
    addNoteClip: () => (inMade ? { ...inMade, start: time, length: amount * 2 } : undefined),
    addNotes: () =>
      noteClip ? { sound: s, clip: noteClip.id, notes: [{ start: time, length: amount, pitch: 40 + pick, strength: amount }] } : undefined,
    recordNotes: () =>
      inMade ? { ...inMade, notes: [{ start: time, end: time + amount, pitch: 40 + pick, strength: amount }] } : undefined,
    changeNotes: () =>
      noteClip && playedNote ? { sound: s, clip: noteClip.id, changes: { [playedNote.id]: { start: time, pitch: 30 + pick } } } : undefined,
    removeNotes: () => (noteClip && playedNote ? { sound: s, clip: noteClip.id, notes: [playedNote.id] } : undefined),
    setGuide: () => (source ? { sound: s, source: pick % 3 ? source.id : undefined, start: amount * 10 - 5 } : undefined),
    changeGuide: () =>
      sound?.guide ? { sound: s, change: pick % 2 ? { start: amount, on: pick % 3 === 0 } : { gain: -amount, repeats: true } } : undefined,
    keepState: () => ({ sound: s, owner, state: 'ABCD'[pick % 4] as 'A' }),
    recallState: () => ({ sound: s, owner, state: pick % 2 ? 'A' : 'B' }),
    morphStates: () => ({ sound: s, owner, from: 'A', to: 'B', share: amount }),
    forgetState: () => ({ sound: s, owner, state: 'A' }),
    setPreset: () => (step ? { sound: s, owner, step: step.id, name: 'Any', values: {} } : undefined),
    savePreset: () => (step ? { sound: s, owner, name: `Preset ${pick % 3}`, tags: ['ice'] } : undefined),
    setChain: () => ({
      sound: s,
      owner,
      name: 'Far off',
      add: pick % 2 === 0 && chain.length < 40,
      steps: [{ effect: 'distance', enabled: true, mix: 1, parameters: {} }],
    }),
    removePreset: () => (project.presets[0] ? { preset: project.presets[0].id } : undefined),
    importPresets: () => (project.presets[0] ? { presets: project.presets.slice(0, 2) } : undefined),
    lockClips: () => (clip ? { sound: s, clips: [clip.id], locked: pick % 3 === 0 } : undefined),
    groupClips: () => (some.length > 1 ? { sound: s, clips: some, together: pick % 2 === 0 } : undefined),
    splitClips: () => (clip ? { sound: s, clips: some, time } : undefined),
    carve: () =>
      layer
        ? { sound: s, layers: [layer.id], hole: { time, before: 0.02, after: amount / 5, fade: 0.01, depth: pick % 2 ? -60 : -9 } }
        : undefined,
    closeGaps: () => (clip ? { sound: s, clips: some } : undefined),
    copyClips: () => (clip ? { sound: s, to: [{ clip: clip.id, start: time }] } : undefined),
    duplicateClips: () => (clip ? { sound: s, clips: some } : undefined),
    pasteClips: () => (clip && layer ? { sound: s, copied: [{ clip, layer: layer.id }], shift: amount } : undefined),
    repeatClips: () =>
      clip
        ? {
            sound: s,
            clips: [clip.id],
            times: 1 + (pick % 3),
            interval: amount + 0.01,
            levelStep: -3,
            pitchStep: 2,
          }
        : undefined,
    setSyncPoints: () =>
      clip ? { sound: s, to: [{ clip: clip.id, sync: pick % 3 ? { at: amount, kind: 'peak' } : undefined }] } : undefined,
    landClips: () => (clip ? { sound: s, to: [{ clip: clip.id, time, sync: { at: amount / 9, kind: 'by hand' } }] } : undefined),
    chopClip: () =>
      clip
        ? {
            sound: s,
            clip: clip.id,
            settings: {
              division: '1/16',
              denser: pick % 2,
              gap: amount / 2,
              order: 'shuffled',
              every: pick % 3,
              everyPitch: 5,
              everyReversed: true,
              seed: pick,
            },
          }
        : undefined,
    stutterClip: () => (clip ? { sound: s, clip: clip.id, settings: { division: '1/8', steps: 2, shape: 'halve' } } : undefined),
    removeClips: () => (clip ? { sound: s, clips: some } : undefined),
    setOverlaps: () => (layer ? { sound: s, layer: layer.id, overlaps: pick % 2 ? 'sum' : 'crossfade' } : undefined),
    addRegions: () => (source ? { source: source.id, regions: [{ name: 'Part', from: amount / 9, to: amount / 3 }] } : undefined),
    setRegion: () =>
      source?.regions[0] ? { source: source.id, region: source.regions[0].id, change: { name: 'Good part', to: amount } } : undefined,
    removeRegions: () => (source ? { source: source.id, regions: source.regions.map(({ id }) => id) } : undefined),
    setSourceOrigin: () => (source ? { source: source.id, origin: { recordist: pick % 2 ? 'A. Halda' : '' } } : undefined),
    setKey: () => ({ sound: s, ...(pick % 3 && { key: { root: pick % 12, kind: scaleKinds[pick % scaleKinds.length]! } }) }),
    setTempo: () => ({ sound: s, tempo: { bpm: 60 + amount * 100 } }),
    duplicateLayer: () => (layer ? { sound: s, layer: layer.id } : undefined),
    reorderLayer: () => (layer ? { sound: s, layer: layer.id, index: pick % 4 } : undefined),
    removeLayer: () => (layer ? { sound: s, layer: layer.id } : undefined),
    solo: () =>
      pick % 2
        ? layer
          ? { sound: s, owner: { layer: layer.id }, soloed: pick % 2 === 0 }
          : undefined
        : group
          ? { sound: s, owner: { bus: group.id }, soloed: pick % 2 === 0 }
          : undefined,
    setSoloing: () => ({ sound: s, soloing: pick % 2 === 0 }),
    clearSolos: () => ({ sound: s }),
    groupLayers: () => (layer ? { sound: s, layers: sound.layers.slice(pick % 2).map(({ id }) => id), name: 'Ice' } : undefined),
    addSharedBus: () => ({ sound: s, name: 'Hall' }),
    setLayerGroup: () => (layer && bus ? { sound: s, layer: layer.id, group: bus.kind === 'group' ? bus.id : undefined } : undefined),
    setSend: () =>
      pick % 2
        ? layer && shared
          ? { sound: s, owner: { layer: layer.id }, bus: shared.id, on: pick % 3 > 0 }
          : undefined
        : group && shared
          ? { sound: s, owner: { bus: group.id }, bus: shared.id, on: pick % 3 > 0 }
          : undefined,
    muteBus: () => (bus ? { sound: s, bus: bus.id, muted: pick % 2 === 0 } : undefined),
    renameBus: () => (bus ? { sound: s, bus: bus.id, name: `Bus ${pick}` } : undefined),
    removeBus: () => (bus ? { sound: s, bus: bus.id } : undefined),
    nameLayers: () => ({ sound: s }),
    saveTemplate: () => (layer ? { sound: s, layer: layer.id, name: `Ready ${pick % 2}` } : undefined),
    applyTemplate: () => (layer && template ? { sound: s, layer: layer.id, template: template.id } : undefined),
    removeTemplate: () => (template ? { template: template.id } : undefined),
    addAutomation: () => (free ? { sound: s, address: free } : undefined),
    setAutomation: () => (lane ? { sound: s, lane: lane.id, settings: { stepped: pick % 2 > 0, trim: amount } } : undefined),
    setAutomationPoints: () =>
      lane
        ? {
            sound: s,
            lane: lane.id,
            points: [
              { time: time + 1, value: amount * 1e4, bend: 0 },
              { time, value: -amount, bend: amount - 0.5 },
            ],
            action: 'Draw',
          }
        : undefined,
    removeAutomation: () => (lane && pick % 2 ? { sound: s, lane: lane.id } : undefined),
    addEffect: () => ({
      sound: s,
      owner,
      effect: ['bands', 'eq', 'side-by-side', 'compressor'][pick % 4]!,
      ...(branch && pick % 3 === 0 && { branch: branch.id }),
    }),
    moveEffect: () =>
      pick % 2
        ? step
          ? { sound: s, owner, step: step.id, index: pick % 3 }
          : undefined
        : step && branch
          ? { sound: s, owner, step: step.id, index: 0, into: { branch: branch.id } }
          : undefined,
    addBranch: () => (host ? { sound: s, owner, step: host.id } : undefined),
    removeBranch: () => (branch ? { sound: s, owner, branch: branch.id } : undefined),
    setBranch: () =>
      branch
        ? {
            sound: s,
            owner,
            branch: branch.id,
            changes: pick % 2 ? { soloed: true } : { muted: true, name: 'Low' },
          }
        : undefined,
    removeEffect: () => (step ? { sound: s, owner, step: step.id } : undefined),
    setValues: () => ({ sound: s, values: { [addresses[pick % addresses.length]!]: amount * 40 - 20 }, label: 'Turn' }),
    setSway: () => {
      const offers = swayOffers(sound, project.sources, effectCatalogue);
      const led = sound.family.sways.find(isChanced);
      const offer = offers[pick % Math.max(1, offers.length)];
      if (!offer) return undefined;
      const { sway } = offer;
      return {
        sound: s,
        sway: sway.kind === 'range' && led ? { ...sway, follows: { address: led.address, amount } } : sway,
        label: 'Sway',
      };
    },
    setFamily: () => ({ sound: s, size: pick % 12, seed: pick }),
    judgeSibling: () =>
      sound.family.siblings.length
        ? { sound: s, index: pick % sound.family.siblings.length, state: 'kept', draws: { 'sound/gain': 1 } }
        : undefined,
    keepBest: () => ({ sound: s, kept: sound.family.siblings.slice(0, 2).map((_, index) => ({ index, draws: {} })) }),
    levelSiblings: () => ({ sound: s, changes: sound.family.siblings.slice(0, 1).map((_, index) => ({ index, gain: -1.5 })) }),
    keepOpen: () => ({ sound: s, draws: sound.family.siblings.map(() => ({})) }),
    rollAgain: () => ({ sound: s }),
    siblingToSound: () =>
      sound.family.siblings.length > 0 ? { sound: s, index: 0, realised: siblingSound(sound, 0, effectCatalogue) } : undefined,
    layOutSiblings: () =>
      sound.family.siblings.length > 0
        ? { sound: s, realised: [0, 1].map((index) => siblingSound(sound, index, effectCatalogue)), every: 0.25 }
        : undefined,
    addMarks: () => ({ sound: s, marks: [{ name: 'Crack', time, stage: 'hit' }] }),
    setMark: () => (sound.marks[0] ? { sound: s, mark: sound.marks[0].id, change: { time, stage: undefined } } : undefined),
    duplicateSound: () => ({ sound: s }),
    pasteLayers: () =>
      layer
        ? {
            sound: s,
            copied: {
              from: project.sounds.at(-1)!,
              layers: project.sounds
                .at(-1)!
                .layers.slice(0, 2)
                .map(({ id }) => id),
            },
          }
        : undefined,
    pasteSteps: () =>
      layer ? { sound: s, owner, copied: { from: sound, owner: { layer: layer.id }, steps: layer.chain.slice(0, 2) } } : undefined,
    replaceRecording: () => (clip && source ? { sound: s, clips: [clip.id], source: source.id, attack: amount / 20 } : undefined),
    mend: () => ({
      sound: s,
      remedy: remedyNames[pick % remedyNames.length]!,
      decibels: amount - 2,
      ...(project.deliveries[0] && { delivery: project.deliveries[0].id }),
    }),
    printLayers: () => {
      const layers = sound.layers.slice(0, 1 + (pick % 2)).map(({ id }) => id);
      const part = pick % 3 === 0 ? 'whole sound' : group && pick % 3 === 1 ? { group: group.id } : { layers };
      return { sound: s, part, source: made, start: amount };
    },
    addPrint: () => ({ sound: s, source: made, start: amount }),
    openRecipe: () => (source ? { source: source.id } : undefined),
    removeSound: () => ({ sound: s }),
    renameProject: () => ({ name: `Halda ${pick}` }),
    renameSound: () => ({ sound: s, name: `Slab ${pick}` }),
    ...conductArguments(project, pick, amount),
    ...deliveryArguments(project, pick, amount),
    addSources: () => ({ sources: [sourceFor(`Taken ${pick}`, mono(noise(480)))], made: pick % 2 === 0 }),
    renameSource: () => (source ? { source: source.id, name: `Ridge ${pick}` } : undefined),
    setSourceRole: () => (source ? { sources: [source.id], role: pick % 3 ? roles[pick % roles.length] : undefined } : undefined),
    tagSources: () => (source ? { sources: [source.id], add: ['snow'], remove: ['ice'] } : undefined),
    setSourceTags: () => (source ? { source: source.id, tags: pick % 2 ? ['ice', ' ice ', ''] : [] } : undefined),
    setSourceNotes: () => (source ? { source: source.id, notes: 'n'.repeat(pick) } : undefined),
    relinkSource: () =>
      source
        ? { source: source.id, audio: hashText(`other ${pick}`), frames: 480 * (1 + pick), channels: 1 + (pick % 2), origin: source.origin }
        : undefined,
    removeSources: () => (source ? { sources: [source.id] } : undefined),
    renameLayer: () => (layer ? { sound: s, layer: layer.id, name: `Layer ${pick}` } : undefined),
    setLayerRole: () => (layer ? { sound: s, layer: layer.id, role: roles[pick % roles.length]! } : undefined),
    muteLayer: () => (layer ? { sound: s, layer: layer.id, muted: pick % 2 === 0 } : undefined),
    switchEffect: () => (step ? { sound: s, owner, step: step.id, enabled: pick % 2 === 0 } : undefined),
    setSways: () => ({
      sound: s,
      sways: addresses
        .slice(0, pick % 9)
        .map((address) => ({ kind: 'range', address, low: -amount, high: amount, locked: pick % 4 === 0 })),
      label: 'Strength',
    }),
    removeSway: () => (sound.family.sways[0] ? { sound: s, sway: sound.family.sways[0].id } : undefined),
    removeMark: () => (sound.marks[0] ? { sound: s, mark: sound.marks[0].id } : undefined),
    setClock: () => ({ sound: s, clock: pick % 2 ? { frameRate: '24' } : { startFrame: pick } }),
    setPicture: () => ({
      sound: s,
      picture: {
        video: hashText('station'),
        file: 'station.webm',
        type: 'video/webm',
        seconds: 10 + amount,
        width: 640,
        height: 360,
        offset: 0,
      },
      ...(pick % 2 && { frameRate: '30' as const }),
    }),
    movePicture: () => (sound.picture ? { sound: s, offset: time } : undefined),
    removePicture: () => (sound.picture ? { sound: s } : undefined),
  };
}
