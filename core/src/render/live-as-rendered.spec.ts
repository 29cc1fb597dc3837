import { channelsOf } from '../audio/layout';
import { effectCatalogue } from '../catalogue';
import { createRandom, seedOf } from '../dsp/random';
import { effects } from '../effects';
import { findProperty, isAutomatable, listAddresses } from '../project/address';
import { axisOf } from '../project/axis';
import { startHistory } from '../project/history';
import { withoutSolos } from '../project/listening';
import type { Layer, Project } from '../project/schema';
import { anyEdit } from '../testing/any-edit';
import { edited, projectWith } from '../testing/project';
import { largest, mono, noise, sine } from '../testing/signals';
import { gainToDecibels } from '../units';
import { SoundPlayer } from './live/player';
import { renderSound } from './render-sound';

/** What moves along lanes is heard as it is rendered, to the sample, in whatever blocks it is asked for. */

const rate = 48_000;
const frames = 9_600;
const recording = noise(frames, 3, -18).map((sample, i) => sample + sine(330, 0.2, rate, -12)[i]!);
const { project, context } = projectWith({ recording: mono(recording) });
const sound = project.sounds[0]!.id;
const layer = project.sounds[0]!.layers[0]!.id;

/** Gives a property a lane that jumps and ramps anywhere in its range. */
function withDrawnLane(to: Project, address: string, which = 0): Project {
  const { id: sound } = to.sounds[which]!;
  const property = findProperty(to.sounds[which]!, address, effectCatalogue)!;
  const axis = axisOf(property.parameter)!;
  const random = createRandom(seedOf(address));
  const times = Array.from({ length: 6 }, () => 0.19 * random.next()).sort((a, b) => a - b);
  const points = [...times, times[3]! + 1e-5]
    .sort((a, b) => a - b)
    .map((time) => ({ time, value: axis.min + random.next() * (axis.max - axis.min), bend: 0 }));
  const added = edited(to, 'addAutomation', { sound, address });
  return edited(added, 'setAutomationPoints', { sound, lane: added.sounds[which]!.automation.at(-1)!.id, points, action: 'Draw' });
}

/** The greatest difference between what is rendered and what is played in odd blocks, as a share of the loudest sample. */
function differenceLive(changed: Project, which = 0): number {
  // Solos are for listening alone.
  const played = withoutSolos(changed.sounds[which]!);
  const channels = channelsOf(played.layout);
  const rendered = renderSound(played, context, { tail: 'fixed length', length: 0.25 }).channels;
  const player = new SoundPlayer(played, context, 0);
  const into = Array.from({ length: channels }, () => new Float32Array(1_024));
  let most = 0;
  let peak = 1;
  const blocks = [480, 1, 192, 511, 700, 64, 37];
  for (let at = 0, n = 0; at < frames; n++) {
    const count = player.render(into, Math.min(blocks[n % blocks.length]!, frames - at));
    for (let c = 0; c < channels; c++) {
      const expected = rendered[c]!.subarray(at, at + count);
      most = Math.max(
        most,
        largest(0, count, (i) => expected[i]! - into[c]![i]!),
      );
      peak = Math.max(
        peak,
        largest(0, count, (i) => expected[i]!),
      );
    }
    at += count;
  }
  return most / peak;
}

/** The project with its clip later. */
function beginningAt(start: number): Project {
  return edited(project, 'moveClips', { sound, to: [{ clip: project.sounds[0]!.layers[0]!.clips[0]!.id, start }] });
}

describe('what moves is heard live as it is rendered', () => {
  it('gain and pan of a layer, and the gain of the sound', () => {
    let changed = project;
    for (const address of [`layer/${layer}/gain`, `layer/${layer}/pan`, 'sound/gain']) changed = withDrawnLane(changed, address);
    expect(differenceLive(changed)).toBeLessThan(1e-6);
  });

  it.each(effects.map(({ id }) => id))('%s', (effect) => {
    const added = edited(project, 'addEffect', { sound, owner: { layer }, effect });
    const step = added.sounds[0]!.layers[0]!.chain[0]!;
    const owner = `layer/${layer}/chain/${step.id}`;
    const moving = [...Object.keys(effectCatalogue.get(effect)!.parameters), 'mix'].filter((key) =>
      isAutomatable(findProperty(added.sounds[0]!, `${owner}/${key}`, effectCatalogue)!),
    );
    const random = createRandom(seedOf(effect));
    for (const key of new Set([moving[Math.floor(random.next() * moving.length)]!, 'mix']))
      expect({ key, same: differenceLive(withDrawnLane(added, `${owner}/${key}`)) < 1e-5 }).toEqual({ key, same: true });
  });

  it.each(effects.map(({ id }) => id))('%s, of itself, from its first clip on', (effect) => {
    const added = edited(beginningAt(0.0537), 'addEffect', { sound, owner: { layer }, effect });
    expect(differenceLive(added)).toBeLessThan(1e-5);
  });

  it('a layer that makes room for what sounded before it: turned down from its first sample on', () => {
    const constant = mono(new Float32Array(48_000).fill(0.25));
    const two = projectWith({ constant, other: constant });
    const [ducked, heard] = two.project.sounds[0]!.layers as [Layer, Layer];
    const on = two.project.sounds[0]!.id;
    let changed = edited(two.project, 'moveClips', { sound: on, to: [{ clip: ducked.clips[0]!.id, start: 0.5 }] });
    changed = edited(changed, 'addEffect', { sound: on, owner: { layer: ducked.id }, effect: 'ducker' });
    const step = `layer/${ducked.id}/chain/${changed.sounds[0]!.layers[0]!.chain[0]!.id}`;
    const values = {
      [`${step}/key`]: `layer/${heard.id}`,
      [`${step}/depth`]: -20,
      [`${step}/attack`]: 0.05,
      [`layer/${heard.id}/gain`]: -96,
    };
    changed = edited(changed, 'setValues', { sound: on, values, label: 'Turn' });
    const [left] = renderSound(changed.sounds[0]!, two.context, { tail: 'cut at the last clip' }).channels;
    // Behind the clip's own fade.
    expect(gainToDecibels(left![24_000 + 960]! / 0.25)).toBeCloseTo(-20, 1);
  });

  it('whatever somebody made of a project', () => {
    const random = createRandom(5);
    for (let n = 0; n < 8; n++) {
      let history = startHistory(project);
      for (let edits = 0; edits < 250; edits++)
        history = anyEdit(history, Math.floor(random.next() * 100_000), Math.floor(random.next() * 1_000), random.next());
      let made = history.project;
      made.sounds.forEach((played, which) => {
        const addresses = listAddresses(played, effectCatalogue).filter(
          (address) =>
            isAutomatable(findProperty(played, address, effectCatalogue)!) && !played.automation.some((lane) => lane.address === address),
        );
        for (let lanes = 0; lanes < 3 && addresses.length > 0; lanes++)
          made = withDrawnLane(made, addresses.splice(Math.floor(random.next() * addresses.length), 1)[0]!, which);
        expect({ n, which, same: differenceLive(made, which) < 1e-5 }).toEqual({ n, which, same: true });
      });
    }
  });
});
