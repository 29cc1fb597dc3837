import type { Project, Sound } from '../project/schema';
import { SoundPlayer } from '../render/live/player';
import { renderSound } from '../render/render-sound';
import { edited, projectWith } from '../testing/project';
import { mono, noise, residual, sine } from '../testing/signals';
import { freezeIdentity, freezeLayer, freezeRecipe } from './freeze-layer';

const rate = 48_000;
const { project, context } = projectWith({ wind: mono(noise(rate, 3, -12)), tone: mono(sine(300, 1, rate, -12)) });
const sound = project.sounds[0]!.id;
const [wind, tone] = project.sounds[0]!.layers.map(({ id }) => id) as [string, string];

/** The first layer with drive and reverb, moved by a lane and a tide, behind a group and with a send. */
function heavy(): Project {
  let changed = edited(project, 'addEffect', { sound, owner: { layer: wind }, effect: 'drive' });
  changed = edited(changed, 'addEffect', { sound, owner: { layer: wind }, effect: 'reverb' });
  changed = edited(changed, 'addMover', { sound, kind: 'tide', name: 'Swell' });
  const mover = changed.sounds[0]!.movers[0]!.id;
  const step = changed.sounds[0]!.layers[0]!.chain[0]!.id;
  return edited(changed, 'setPull', { sound, mover, address: `layer/${wind}/chain/${step}/drive`, depth: 6 });
}

const first = (changed: Project): Sound => changed.sounds[0]!;
const identityOf = (changed: Project, layer = wind): string => freezeIdentity(freezeRecipe(first(changed), layer), context);

describe('a frozen layer', () => {
  const changed = edited(heavy(), 'setValues', { sound, values: { [`layer/${wind}/gain`]: -7, [`layer/${wind}/pan`]: 0.3 }, label: '' });
  const frozen = new Map([[wind, freezeLayer(freezeRecipe(first(changed), wind), context)]]);

  it('sounds as it does live, at its fader, however it is played', () => {
    const live = renderSound(first(changed), context, { tail: 'ring out' });
    const thawless = renderSound(first(changed), { ...context, frozen }, { tail: 'ring out' });
    for (const c of [0, 1]) expect(residual(live.channels[c]!, thawless.channels[c]!)).toBeLessThan(-90);
    const player = new SoundPlayer(first(changed), { ...context, frozen }, 12_000);
    const [left, right] = [new Float32Array(480), new Float32Array(480)];
    const played = new Float32Array(24_000);
    for (let at = 0; at < played.length; at += 480) {
      player.render([left, right], 480);
      played.set(left, at);
    }
    expect(residual(thawless.channels[0]!.subarray(12_000, 36_000), played)).toBeLessThan(-90);
  });

  it('is thawed without a click when what it plays is taken away, and frozen without one', () => {
    const low = projectWith({ low: mono(sine(90, 2, rate, -6)) });
    const lowSound = low.project.sounds[0]!;
    const id = lowSound.layers[0]!.id;
    const ice = new Map([[id, freezeLayer(freezeRecipe(lowSound, id), low.context)]]);
    const player = new SoundPlayer(lowSound, low.context, 0);
    const [left, right] = [new Float32Array(480), new Float32Array(480)];
    let [before, last, bend] = [0, 0, 0];
    for (let block = 0; block < 100; block++) {
      if (block === 30) player.setSound(lowSound, { ...low.context, frozen: ice });
      if (block === 60) player.setSound(lowSound, low.context);
      player.render([left, right], 480);
      for (const sample of left) {
        if (block > 0) bend = Math.max(bend, Math.abs(sample - 2 * last + before));
        [before, last] = [last, sample];
      }
    }
    // A sine's own bend is its amplitude times the square of its step.
    expect(bend).toBeLessThan(0.5 * ((2 * Math.PI * 90) / rate) ** 2 * 1.5);
  });

  it('plays on when every edit brings a copy of it, as it does between page and engine', () => {
    const ice = frozen.get(wind)!;
    const player = new SoundPlayer(first(changed), { ...context, frozen }, 12_000);
    const [left, right] = [new Float32Array(480), new Float32Array(480)];
    player.render([left, right], 480);
    // A copy is taken for what it says it is: were it built in anew, this one would be silent.
    const copy = new Map([[wind, { ...ice, channels: ice.channels.map((channel) => new Float32Array(channel.length)) }]]);
    const quieter = edited(changed, 'setValues', { sound, values: { [`layer/${tone}/gain`]: -90 }, label: '' });
    player.setSound(first(quieter), { ...context, frozen: copy });
    for (let block = 0; block < 20; block++) player.render([left, right], 480);
    expect(Math.max(...left.map(Math.abs))).toBeGreaterThan(0.02);
    const thawed = new Map([[wind, { ...copy.get(wind)!, identity: 'another' }]]);
    player.setSound(first(quieter), { ...context, frozen: thawed });
    for (let block = 0; block < 20; block++) player.render([left, right], 480);
    expect(Math.max(...left.map(Math.abs))).toBeLessThan(0.001);
  });

  it('holds while only faders, groups, sends, other layers and other movers change', () => {
    const identity = identityOf(changed);
    const same = [
      edited(changed, 'setValues', { sound, values: { [`layer/${wind}/gain`]: -20, [`layer/${tone}/gain`]: -3 }, label: '' }),
      edited(changed, 'renameLayer', { sound, layer: wind, name: 'Another' }),
      edited(changed, 'muteLayer', { sound, layer: wind, muted: true }),
      edited(changed, 'addEffect', { sound, owner: { layer: tone }, effect: 'chorus' }),
      edited(changed, 'addEffect', { sound, owner: 'sound', effect: 'limiter' }),
      edited(changed, 'addMover', { sound, kind: 'walk', name: 'Drift' }),
      edited(changed, 'addSharedBus', { sound, name: 'Room' }),
    ];
    for (const each of same) expect(identityOf(each)).toBe(identity);
  });

  it('does not hold when its clips, its chain or what moves it changes', () => {
    const identity = identityOf(changed);
    const layer = first(changed).layers[0]!;
    const others = [
      edited(changed, 'moveClips', { sound, to: [{ clip: layer.clips[0]!.id, start: 0.1 }] }),
      edited(changed, 'setValues', { sound, values: { [`layer/${wind}/chain/${layer.chain[0]!.id}/drive`]: 20 }, label: '' }),
      edited(changed, 'switchEffect', { sound, owner: { layer: wind }, step: layer.chain[1]!.id, enabled: false }),
      edited(changed, 'removeMover', { sound, mover: first(changed).movers[0]!.id }),
    ];
    for (const each of others) expect(identityOf(each)).not.toBe(identity);
  });
});
