import { effectCatalogue } from '../../catalogue';
import { createProject, createSound } from '../../project/create';
import { editNamed } from '../../project/edits';
import { applyEdit, startHistory } from '../../project/history';
import type { Patch } from '../../project/patch/patch-schema';
import type { Sound } from '../../project/schema';
import { partWith, patchWith, playPatch } from '../../testing/synthesis';
import { amplitudeAt } from '../../testing/signals';
import { renderContext } from '../library';
import { SoundPlayer } from './player';

const sampleRate = 48_000;
const context = renderContext({ sampleRate, sources: [] }, { get: () => undefined });

/** A sound of one made layer, named `layer`, whose clip of half a second has no notes. */
function soundOf(patch: Patch): { sound: Sound; layer: string } {
  const empty = startHistory({ ...createProject('p', 'P'), sounds: [createSound('sound', 'Sound')] });
  const made = { sound: 'sound', name: 'Call', role: 'Body' as const, start: 0, length: 0.5, notes: [], patch };
  const sound = applyEdit(empty, editNamed('addMadeLayer'), made, effectCatalogue).project.sounds[0]!;
  return { sound, layer: sound.layers[0]!.id };
}

function render(player: SoundPlayer, frames: number): Float32Array {
  const into = [new Float32Array(frames), new Float32Array(frames)];
  for (let at = 0; at < frames;) at += player.render(into, Math.min(480, frames - at), at);
  return into[0]!;
}

const peak = (samples: Float32Array): number => samples.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);
const sine = patchWith([partWith('a', 'oscillator', { sustain: 1, strengthLevel: 0 })]);
const key = (id: string, pitch: number, strength = 1) => ({ id, pitch, strength });

describe('playing by hand', () => {
  it('lets a key sound as long as it is down, within two steps of its grid, as the patch plays that note', () => {
    const { sound, layer } = soundOf(sine);
    const player = new SoundPlayer(sound, context, 0);
    expect(peak(render(player, 4_800))).toBe(0);
    player.hands.strike(layer, key('k', 69));
    const heard = render(player, 9_600);
    const first = heard.findIndex((sample) => sample !== 0);
    expect(first).toBeLessThan(128);
    // The same as a note in a clip gives.
    const [played] = playPatch(sine, [{ id: 'k', start: 0, end: 96_000, pitch: 69, strength: 1 }], 9_600);
    const onset = played.findIndex((sample) => sample !== 0);
    for (let i = 0; i < 4_800; i++) expect(heard[first + i]).toBeCloseTo(played[onset + i]!, 6);
    player.hands.letGo(layer, 'k');
    render(player, 480);
    expect(peak(render(player, 4_800))).toBe(0);
  });

  it('hears a key that goes down and up between two blocks', () => {
    const { sound, layer } = soundOf(patchWith([partWith('a', 'oscillator', { sustain: 1, release: 0.1 })]));
    const player = new SoundPlayer(sound, context, 0);
    player.hands.strike(layer, key('k', 69));
    player.hands.letGo(layer, 'k');
    expect(peak(render(player, 480))).toBeGreaterThan(0.01);
    render(player, 9_600);
    expect(peak(render(player, 480))).toBe(0);
  });

  it('goes on over a jump and over an edit', () => {
    const { sound, layer } = soundOf(sine);
    const player = new SoundPlayer(sound, context, 0);
    player.hands.strike(layer, key('k', 69));
    render(player, 4_800);
    player.seek(96_000);
    const after = render(player, 4_800);
    expect(amplitudeAt(after, 440, sampleRate)).toBeGreaterThan(30 * amplitudeAt(after, 660, sampleRate));
    expect(peak(after.subarray(2_400))).toBeCloseTo(1, 1);
    // Its level falls with the layer's.
    player.setSound({ ...sound, layers: [{ ...sound.layers[0]!, gain: -12.0412 }] }, context);
    expect(peak(render(player, 9_600).subarray(4_800))).toBeCloseTo(0.25, 2);
    // A part more is another patch: what is held ends, what comes is heard.
    const more = patchWith([...sine.parts, partWith('b', 'oscillator', { sustain: 1, tuning: 7, strengthLevel: 0 })]);
    player.setSound({ ...sound, layers: [{ ...sound.layers[0]!, patch: more }] }, context);
    render(player, 4_800);
    player.hands.strike(layer, key('l', 69));
    expect(amplitudeAt(render(player, 9_600), 440 * 2 ** (7 / 12), sampleRate)).toBeGreaterThan(0.2);
  });

  it('goes through the layer’s chain, and its lanes go by the time of the sound', () => {
    const { sound, layer } = soundOf(sine);
    const address = `layer/${layer}/part/a/level`;
    const at = (time: number, value: number) => ({ time, value, bend: 0 });
    const automation = [{ id: 'lane', address, enabled: true, stepped: false, trim: 0, points: [at(0, 0), at(1, 0), at(1.001, -20)] }];
    const chain = [{ id: 'step', effect: 'trim', enabled: true, mix: 1, parameters: { gain: -6.0206 } }];
    const moved = { ...sound, automation, layers: [{ ...sound.layers[0]!, chain }] };
    const player = new SoundPlayer(moved, context, 0);
    player.hands.strike(layer, key('k', 69));
    const heard = render(player, 72_000);
    expect(peak(heard.subarray(12_000, 36_000))).toBeCloseTo(0.5, 2);
    expect(peak(heard.subarray(60_000))).toBeCloseTo(0.05, 2);
  });

  it('goes back to the key that is still down, where one voice plays all', () => {
    const { sound, layer } = soundOf({ ...sine, parameters: { mode: 'one voice, bound' } });
    const player = new SoundPlayer(sound, context, 0);
    const level = (frequency: number): number => amplitudeAt(render(player, 9_600).subarray(2_400), frequency, sampleRate);
    player.hands.strike(layer, key('low', 57));
    expect(level(220)).toBeGreaterThan(0.9);
    player.hands.strike(layer, key('high', 69));
    expect(level(440)).toBeGreaterThan(0.9);
    player.hands.letGo(layer, 'high');
    expect(level(220)).toBeGreaterThan(0.9);
    player.hands.letGo(layer, 'low');
    render(player, 480);
    expect(peak(render(player, 480))).toBe(0);
  });

  it('is silent on layers of recordings and for keys that are not down', () => {
    const { sound, layer } = soundOf(sine);
    const { patch: _, ...plain } = sound.layers[0]!;
    const player = new SoundPlayer({ ...sound, layers: [{ ...plain, clips: [] }] }, context, 0);
    player.hands.strike(layer, key('k', 69));
    player.hands.letGo('nobody', 'k');
    expect(peak(render(player, 4_800))).toBe(0);
  });
});
