import fc from 'fast-check';
import { effectCatalogue } from '../effects';
import { projectWith, sourceFor } from '../testing/project';
import { mono, noise } from '../testing/signals';
import { findProperty, isAutomatable, listAddresses } from './address';
import { branchesOf, stepsOf } from './chain/chain-tree';
import { createProject } from './create';
import type { EditArguments, EditName } from './edits';
import { EditError, editNamed } from './edits';
import type { History } from './history';
import { applyEdit, redo, startHistory, undo } from './history';
import { parseProject } from './parse';
import type { Project } from './schema';

function make<N extends EditName>(history: History, name: N, args: EditArguments<N>, gesture?: string): History {
  const edit = editNamed(name);
  return applyEdit(history, edit, args, effectCatalogue, gesture);
}

const { project: start } = projectWith({ 'Ridge wind': mono(noise(48_000)), 'Ice crack': mono(noise(9_600)) });

/** Any action on any object of the project at hand, chosen by three numbers. */
function anyEdit(history: History, kind: number, pick: number, amount: number): History {
  const { project } = history;
  const sound = project.sounds[pick % Math.max(1, project.sounds.length)];
  if (!sound) return make(history, 'addSound', { name: `Sound ${pick}` });
  const layer = sound.layers[pick % Math.max(1, sound.layers.length)];
  const clips = sound.layers.flatMap((each) => each.clips);
  const clip = clips[pick % Math.max(1, clips.length)];
  const some = clips.slice(0, 1 + (pick % 3)).map(({ id }) => id);
  const source = project.sources[pick % Math.max(1, project.sources.length)];
  const s = sound.id;
  const time = amount * 3;
  const owner = layer && pick % 3 ? ({ layer: layer.id } as const) : ('sound' as const);
  const chain = owner === 'sound' ? sound.chain : layer!.chain;
  const steps = stepsOf(chain);
  const step = steps[pick % Math.max(1, steps.length)];
  const host = steps.find(({ branches }) => branches);
  const branches = branchesOf(chain);
  const branch = branches[pick % Math.max(1, branches.length)];
  const addresses = listAddresses(sound, effectCatalogue);
  const bus = sound.buses[pick % Math.max(1, sound.buses.length)];
  const group = sound.buses.find(({ kind: own }) => own === 'group');
  const shared = sound.buses.find(({ kind: own }) => own === 'shared');
  const template = project.templates[pick % Math.max(1, project.templates.length)];
  const lane = sound.automation[pick % Math.max(1, sound.automation.length)];
  const automatable = addresses.filter((address) => isAutomatable(findProperty(sound, address, effectCatalogue)!));
  const free = automatable.filter((address) => !sound.automation.some((other) => other.address === address))[pick];
  const actions: (() => History)[] = [
    () => make(history, 'addSound', { name: 'More' }),
    () => (source ? make(history, 'addLayer', { sound: s, source: source.id, start: time }) : history),
    () => (layer && source ? make(history, 'addClip', { sound: s, layer: layer.id, source: source.id, start: time }) : history),
    () =>
      clip ? make(history, 'moveClips', { sound: s, to: [{ clip: clip.id, start: time, ...(layer && { layer: layer.id }) }] }) : history,
    () => (clip ? make(history, 'trimClips', { sound: s, side: pick % 2 ? 'start' : 'end', to: [{ clip: clip.id, time }] }) : history),
    () => (clip ? make(history, 'slipClips', { sound: s, to: [{ clip: clip.id, offset: time }] }) : history),
    () => (clip ? make(history, 'fadeClips', { sound: s, clips: some, side: pick % 2 ? 'in' : 'out', length: amount }) : history),
    () => (clip ? make(history, 'reverseClips', { sound: s, clips: some }) : history),
    () => (clip ? make(history, 'fitClips', { sound: s, clips: some, duration: amount + 0.01 }) : history),
    () =>
      clip
        ? make(history, 'loopClip', {
            sound: s,
            clip: clip.id,
            loop: pick % 3 ? { from: amount / 4, to: amount, crossfade: 0.01, duration: time } : undefined,
          })
        : history,
    () =>
      clip
        ? make(history, 'setSpeedCurve', {
            sound: s,
            clip: clip.id,
            points: pick % 4 ? [time, amount].map((at) => ({ at, semitones: amount * 12 - pick })) : [],
          })
        : history,
    () =>
      layer ? make(history, 'makeRoom', { sound: s, layer: layer.id, band: { from: 80, to: 80 + amount * 400 + 10 }, gain: -4 }) : history,
    () => {
      const other = sound.layers.find((each) => each !== layer);
      const band = { from: 80, to: 200 + pick };
      return layer && other ? make(history, 'duckUnder', { sound: s, layer: layer.id, key: other.id, band }) : history;
    },
    () => (layer ? make(history, 'transposeLayer', { sound: s, layer: layer.id, semitones: 12 - pick }) : history),
    () => make(history, 'addMover', { sound: s, kind: (['tide', 'rein', 'walk'] as const)[pick % 3]!, name: 'Swell' }),
    () =>
      sound.movers[0]
        ? make(history, 'setMover', {
            sound: s,
            mover: sound.movers[0].id,
            settings: pick % 2 ? { length: amount, phase: 0.5 } : { value: 0.3 },
          })
        : history,
    () => (sound.movers[0] ? make(history, 'removeMover', { sound: s, mover: sound.movers[0].id }) : history),
    () =>
      sound.movers[0] && automatable.length > 0
        ? make(history, 'setPull', {
            sound: s,
            mover: sound.movers[0].id,
            address: automatable.filter((address) => !address.startsWith('rein/'))[pick % 5] ?? 'sound/gain',
            depth: pick % 4 ? amount * 6 : undefined,
          })
        : history,
    () => {
      const [pull] = sound.pulls;
      const shape = pick % 2 ? { from: amount, bend: -amount } : { to: amount };
      return pull ? make(history, 'shapePull', { sound: s, mover: pull.mover, address: pull.address, shape }) : history;
    },
    () => (source ? make(history, 'setReference', { sound: s, source: pick % 3 ? source.id : undefined }) : history),
    () => make(history, 'keepState', { sound: s, owner, state: 'ABCD'[pick % 4] as 'A' }),
    () => make(history, 'recallState', { sound: s, owner, state: pick % 2 ? 'A' : 'B' }),
    () => make(history, 'morphStates', { sound: s, owner, from: 'A', to: 'B', share: amount }),
    () => make(history, 'forgetState', { sound: s, owner, state: 'A' }),
    () => (step ? make(history, 'setPreset', { sound: s, owner, step: step.id, name: 'Any', values: {} }) : history),
    () => (step ? make(history, 'savePreset', { sound: s, owner, name: `Preset ${pick % 3}`, tags: ['ice'] }) : history),
    () =>
      make(history, 'setChain', {
        sound: s,
        owner,
        name: 'Far off',
        add: pick % 2 === 0 && chain.length < 40,
        steps: [{ effect: 'distance', enabled: true, mix: 1, parameters: {} }],
      }),
    () => (project.presets[0] ? make(history, 'removePreset', { preset: project.presets[0].id }) : history),
    () => (project.presets[0] ? make(history, 'importPresets', { presets: project.presets.slice(0, 2) }) : history),
    () => (clip ? make(history, 'lockClips', { sound: s, clips: [clip.id], locked: pick % 3 === 0 }) : history),
    () => (some.length > 1 ? make(history, 'groupClips', { sound: s, clips: some, together: pick % 2 === 0 }) : history),
    () => (clip ? make(history, 'splitClips', { sound: s, clips: some, time }) : history),
    () =>
      layer
        ? make(history, 'carve', { sound: s, layers: [layer.id], hole: { time, before: 0.02, after: amount / 5, fade: 0.01 } })
        : history,
    () => (clip ? make(history, 'closeGaps', { sound: s, clips: some }) : history),
    () => (clip ? make(history, 'copyClips', { sound: s, to: [{ clip: clip.id, start: time }] }) : history),
    () => (clip ? make(history, 'duplicateClips', { sound: s, clips: some }) : history),
    () => (clip && layer ? make(history, 'pasteClips', { sound: s, copied: [{ clip, layer: layer.id }], shift: amount }) : history),
    () =>
      clip
        ? make(history, 'repeatClips', {
            sound: s,
            clips: [clip.id],
            times: 1 + (pick % 3),
            interval: amount + 0.01,
            levelStep: -3,
            pitchStep: 2,
          })
        : history,
    () =>
      clip
        ? make(history, 'setSyncPoints', { sound: s, to: [{ clip: clip.id, sync: pick % 3 ? { at: amount, kind: 'peak' } : undefined }] })
        : history,
    () =>
      clip ? make(history, 'landClips', { sound: s, to: [{ clip: clip.id, time, sync: { at: amount / 9, kind: 'by hand' } }] }) : history,
    () =>
      clip
        ? make(history, 'chopClip', {
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
          })
        : history,
    () =>
      clip ? make(history, 'stutterClip', { sound: s, clip: clip.id, settings: { division: '1/8', steps: 2, shape: 'halve' } }) : history,
    () => (clip ? make(history, 'removeClips', { sound: s, clips: some }) : history),
    () => (layer ? make(history, 'setOverlaps', { sound: s, layer: layer.id, overlaps: pick % 2 ? 'sum' : 'crossfade' }) : history),
    () =>
      source ? make(history, 'addRegions', { source: source.id, regions: [{ name: 'Part', from: amount / 9, to: amount / 3 }] }) : history,
    () =>
      source?.regions[0]
        ? make(history, 'setRegion', { source: source.id, region: source.regions[0].id, change: { name: 'Good part', to: amount } })
        : history,
    () => (source ? make(history, 'removeRegions', { source: source.id, regions: source.regions.map(({ id }) => id) }) : history),
    () => (source ? make(history, 'setSourceOrigin', { source: source.id, origin: { recordist: pick % 2 ? 'A. Halda' : '' } }) : history),
    () => make(history, 'setTempo', { sound: s, tempo: { bpm: 60 + amount * 100 } }),
    () => (layer ? make(history, 'duplicateLayer', { sound: s, layer: layer.id }) : history),
    () => (layer ? make(history, 'reorderLayer', { sound: s, layer: layer.id, index: pick % 4 }) : history),
    () => (layer ? make(history, 'removeLayer', { sound: s, layer: layer.id }) : history),
    () => (layer ? make(history, 'solo', { sound: s, owner: { layer: layer.id }, soloed: pick % 2 === 0 }) : history),
    () => make(history, 'setSoloing', { sound: s, soloing: pick % 2 === 0 }),
    () =>
      layer ? make(history, 'groupLayers', { sound: s, layers: sound.layers.slice(pick % 2).map(({ id }) => id), name: 'Ice' }) : history,
    () => make(history, 'addSharedBus', { sound: s, name: 'Hall' }),
    () =>
      layer && bus
        ? make(history, 'setLayerGroup', { sound: s, layer: layer.id, group: bus.kind === 'group' ? bus.id : undefined })
        : history,
    () =>
      layer && shared ? make(history, 'setSend', { sound: s, owner: { layer: layer.id }, bus: shared.id, on: pick % 3 > 0 }) : history,
    () => (group && shared ? make(history, 'setSend', { sound: s, owner: { bus: group.id }, bus: shared.id, on: pick % 3 > 0 }) : history),
    () => (bus ? make(history, 'muteBus', { sound: s, bus: bus.id, muted: pick % 2 === 0 }) : history),
    () => (group ? make(history, 'solo', { sound: s, owner: { bus: group.id }, soloed: pick % 2 === 0 }) : history),
    () => (bus ? make(history, 'renameBus', { sound: s, bus: bus.id, name: `Bus ${pick}` }) : history),
    () => (bus ? make(history, 'removeBus', { sound: s, bus: bus.id }) : history),
    () => make(history, 'nameLayers', { sound: s }),
    () => (layer ? make(history, 'saveTemplate', { sound: s, layer: layer.id, name: `Ready ${pick % 2}` }) : history),
    () => (layer && template ? make(history, 'applyTemplate', { sound: s, layer: layer.id, template: template.id }) : history),
    () => (template ? make(history, 'removeTemplate', { template: template.id }) : history),
    () => (free ? make(history, 'addAutomation', { sound: s, address: free }) : history),
    () => (lane ? make(history, 'setAutomation', { sound: s, lane: lane.id, settings: { stepped: pick % 2 > 0, trim: amount } }) : history),
    () =>
      lane
        ? make(history, 'setAutomationPoints', {
            sound: s,
            lane: lane.id,
            points: [
              { time: time + 1, value: amount * 1e4, bend: 0 },
              { time, value: -amount, bend: amount - 0.5 },
            ],
            action: 'Draw',
          })
        : history,
    () => (lane && pick % 2 ? make(history, 'removeAutomation', { sound: s, lane: lane.id }) : history),
    () =>
      make(history, 'addEffect', {
        sound: s,
        owner,
        effect: ['bands', 'eq', 'side-by-side', 'compressor'][pick % 4]!,
        ...(branch && pick % 3 === 0 && { branch: branch.id }),
      }),
    () => (step ? make(history, 'moveEffect', { sound: s, owner, step: step.id, index: pick % 3 }) : history),
    () =>
      step && branch ? make(history, 'moveEffect', { sound: s, owner, step: step.id, index: 0, into: { branch: branch.id } }) : history,
    () => (host ? make(history, 'addBranch', { sound: s, owner, step: host.id }) : history),
    () => (branch ? make(history, 'removeBranch', { sound: s, owner, branch: branch.id }) : history),
    () =>
      branch
        ? make(history, 'setBranch', {
            sound: s,
            owner,
            branch: branch.id,
            changes: pick % 2 ? { soloed: true } : { muted: true, name: 'Low' },
          })
        : history,
    () => (step ? make(history, 'removeEffect', { sound: s, owner, step: step.id }) : history),
    () => make(history, 'setValues', { sound: s, values: { [addresses[pick % addresses.length]!]: amount * 40 - 20 }, label: 'Turn' }),
    () =>
      make(history, 'setSway', {
        sound: s,
        sway: { kind: 'range', address: addresses[pick % addresses.length]!, low: -amount, high: amount, locked: false },
        label: 'Sway',
      }),
    () => make(history, 'setFamily', { sound: s, size: pick % 12, seed: pick }),
    () =>
      sound.family.siblings.length
        ? make(history, 'judgeSibling', { sound: s, index: pick % sound.family.siblings.length, state: 'kept', draws: { 'sound/gain': 1 } })
        : history,
    () => make(history, 'rollAgain', { sound: s }),
    () => make(history, 'addMarks', { sound: s, marks: [{ name: 'Crack', time, stage: 'hit' }] }),
    () => (sound.marks[0] ? make(history, 'setMark', { sound: s, mark: sound.marks[0].id, change: { time, stage: undefined } }) : history),
    () => {
      const made = {
        ...sourceFor(`Print ${pick}`, mono(noise(480))),
        origin: {
          file: 'printed here',
          sampleRate: 48_000,
          encoding: '32 bit float',
          print: { part: 'whole sound', recipe: sound, sources: project.sources.map(({ id, name, audio }) => ({ id, name, audio })) },
        },
      };
      const layers = sound.layers.slice(0, 1 + (pick % 2)).map(({ id }) => id);
      return make(history, 'printLayers', {
        sound: s,
        part: pick % 3 === 0 ? 'whole sound' : group && pick % 3 === 1 ? { group: group.id } : { layers },
        source: made,
        start: amount,
      });
    },
    () => (source ? make(history, 'openRecipe', { source: source.id }) : history),
    () => make(history, 'removeSound', { sound: s }),
  ];
  try {
    return actions[kind % actions.length]!();
  } catch (error) {
    // What cannot be done leaves everything as it was.
    if (error instanceof EditError) return history;
    throw error;
  }
}

const step = fc.tuple(fc.nat(1_000), fc.nat(50), fc.double({ min: 0, max: 1, noNaN: true }));

describe('undo and redo', () => {
  it('restore the document exactly after any actions, and every document on the way is valid', () => {
    fc.assert(
      fc.property(fc.array(step, { maxLength: 25 }), (steps) => {
        let history = startHistory(start);
        const seen: Project[] = [start];
        for (const [kind, pick, amount] of steps) {
          const before = history;
          history = anyEdit(history, kind, pick, amount);
          if (history !== before) seen.push(history.project);
          parseProject(JSON.parse(JSON.stringify(history.project)), effectCatalogue);
        }
        const last = history.project;
        for (let i = seen.length - 1; i > 0; i--) {
          expect(history.project).toEqual(seen[i]);
          history = undo(history);
        }
        expect(history.project).toEqual(start);
        for (let i = 1; i < seen.length; i++) history = redo(history);
        expect(history.project).toEqual(last);
      }),
      { numRuns: 250, seed: 21 },
    );
  });

  it('make one step of one gesture', () => {
    const clip = start.sounds[0]!.layers[0]!.clips[0]!.id;
    const sound = start.sounds[0]!.id;
    let history = startHistory(start);
    for (let i = 1; i <= 50; i++) history = make(history, 'moveClips', { sound, to: [{ clip, start: i / 10 }] }, 'drag 1');
    expect(history.past).toHaveLength(1);
    expect(history.past[0]!.forward).toHaveLength(1);
    expect(history.past[0]!.label).toBe('Move “Ridge wind”');
    history = make(history, 'moveClips', { sound, to: [{ clip, start: 9 }] }, 'drag 2');
    expect(history.past).toHaveLength(2);
    expect(undo(undo(history)).project).toEqual(start);
    expect(redo(redo(undo(undo(history)))).project).toEqual(history.project);
  });

  it('name the step after the effect as people know it', () => {
    const history = make(startHistory(start), 'addEffect', { sound: start.sounds[0]!.id, owner: 'sound', effect: 'eq' });
    expect(history.past[0]!.label).toBe('Add EQ to “Slab test”');
  });

  it('forget what was undone when something new is done', () => {
    const history = make(undo(make(startHistory(start), 'addSound', { name: 'A' })), 'addSound', { name: 'B' });
    expect(history.future).toEqual([]);
    expect(redo(history)).toBe(history);
  });

  it('leave no step for an edit that changes nothing, nor for one that fails', () => {
    const history = startHistory(start);
    expect(make(history, 'renameProject', { name: start.name })).toBe(history);
    expect(() => make(history, 'renameProject', { name: '  ' })).toThrow(EditError);
    expect(() => make(history, 'removeClips', { sound: 'x', clips: ['y'] })).toThrow('There is no sound “x”');
  });
});

describe('edits', () => {
  const sound = start.sounds[0]!.id;
  const clip = start.sounds[0]!.layers[0]!.clips[0]!;

  it('moving a clip to another layer takes its sways along', () => {
    const [from, to] = start.sounds[0]!.layers;
    let history = make(startHistory(start), 'setSway', {
      sound,
      sway: { kind: 'range', address: `layer/${from!.id}/clip/${clip.id}/gain`, low: -1, high: 1, locked: false },
      label: 'Sway',
    });
    history = make(history, 'moveClips', { sound, to: [{ clip: clip.id, start: 1, layer: to!.id }] });
    expect(history.project.sounds[0]!.layers[1]!.clips.map((each) => each.id)).toContain(clip.id);
    expect(history.project.sounds[0]!.family.sways[0]!.address).toBe(`layer/${to!.id}/clip/${clip.id}/gain`);
  });

  it('a used source stays, an unused one goes', () => {
    const history = startHistory(start);
    const source = start.sources[0]!.id;
    expect(() => make(history, 'removeSources', { sources: [source] })).toThrow('is used in “Slab test”');
    const without = make(history, 'removeSound', { sound });
    expect(make(without, 'removeSources', { sources: [source] }).project.sources).toHaveLength(1);
  });

  it('names with quotes, slashes, emoji and line breaks are kept as one line', () => {
    const renamed = make(startHistory(start), 'renameSound', { sound, name: ' “a/b” 🧊\n<c> ' });
    expect(renamed.project.sounds[0]!.name).toBe('“a/b” 🧊 <c>');
    expect(() => make(startHistory(start), 'renameSound', { sound, name: 'x'.repeat(301) })).toThrow('301 characters');
  });

  it('values are fitted into their range and refused where there is no property', () => {
    const layer = start.sounds[0]!.layers[0]!.id;
    const history = make(startHistory(start), 'setValues', { sound, values: { [`layer/${layer}/gain`]: 900 }, label: 'Gain' });
    expect(history.project.sounds[0]!.layers[0]!.gain).toBe(36);
    expect(() => make(history, 'setValues', { sound, values: { 'layer/none/gain': 1 }, label: 'x' })).toThrow('leads to no property');
    expect(() => make(history, 'setValues', { sound, values: { [`layer/${layer}/__proto__`]: 1 }, label: 'x' })).toThrow(
      'leads to no property',
    );
  });

  it('an empty project has everything it needs', () => {
    expect(parseProject(createProject('a', 'Halda'), effectCatalogue).sounds).toEqual([]);
  });
});
