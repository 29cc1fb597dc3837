import type { Project } from '../../project/schema';
import { edited, projectWith } from '../../testing/project';
import { amplitudeAt, mono, noise, residual, sine } from '../../testing/signals';
import type { StretchedPiece } from '../../treatments/stretched';
import { makeStretchedPiece, pieceSpan } from '../../treatments/stretched';
import { makeTreated, TreatmentCache, treatClip, treatmentKey } from '../../treatments/treat-clip';
import { SoundPlayer } from './player';
import { renderSound } from '../render-sound';

const rate = 48_000;

function collect(player: SoundPlayer, frames: number): Float32Array {
  const output = new Float32Array(frames);
  const left = new Float32Array(1_024);
  const right = new Float32Array(1_024);
  for (let at = 0; at < frames;) {
    const count = player.render([left, right], Math.min(480, frames - at));
    output.set(left.subarray(0, count), at);
    at += count;
  }
  return output;
}

/** Largest second difference: tiny for low tones, large wherever something jumps. */
function roughness(samples: Float32Array): number {
  let largest = 0;
  for (let i = 2; i < samples.length; i++) largest = Math.max(largest, Math.abs(samples[i]! - 2 * samples[i - 1]! + samples[i - 2]!));
  return largest;
}

const { project, context } = projectWith({ low: mono(sine(90, 2, rate, -6)), lower: mono(sine(60, 2, rate, -6)) });
const sound = project.sounds[0]!;
const [first, second] = sound.layers;
const steady = roughness(sine(90, 1, rate, -6)) + roughness(sine(60, 1, rate, -6));

describe('playing a sound live', () => {
  it('gives what an offline render gives', () => {
    const player = new SoundPlayer(sound, context, 0);
    const offline = renderSound(sound, context, { tail: 'cut at the last clip' }).channels[0]!;
    expect(collect(player, 48_000)).toEqual(offline.subarray(0, 48_000));
  });

  it('starts anywhere with chains already settled', () => {
    const withEffects = edited(project, 'addEffect', { sound: sound.id, owner: 'sound', effect: 'compressor' }).sounds[0]!;
    const offline = renderSound(withEffects, context, { tail: 'cut at the last clip' }).channels[0]!;
    const played = collect(new SoundPlayer(withEffects, context, 24_000), 4_800);
    let worst = 0;
    for (let i = 0; i < 4_800; i++) worst = Math.max(worst, Math.abs(played[i]! - offline[24_000 + i]!));
    expect(worst).toBeLessThan(0.05);
  });

  const change = (name: string, make: () => Project): [string, () => Project] => [name, make];
  it.each([
    change('gain', () => edited(project, 'setValues', { sound: sound.id, values: { [`layer/${first!.id}/gain`]: -24 }, label: '' })),
    change('mute', () => edited(project, 'muteLayer', { sound: sound.id, layer: first!.id, muted: true })),
    change('moving a clip', () => edited(project, 'moveClips', { sound: sound.id, to: [{ clip: first!.clips[0]!.id, start: 0.003 }] })),
    change('removing a layer', () => edited(project, 'removeLayer', { sound: sound.id, layer: second!.id })),
    change('adding an effect', () => edited(project, 'addEffect', { sound: sound.id, owner: { layer: first!.id }, effect: 'compressor' })),
    change('changing speed', () =>
      edited(project, 'setValues', { sound: sound.id, values: { [`layer/${first!.id}/clip/${first!.clips[0]!.id}/speed`]: 3 }, label: '' }),
    ),
  ])('takes over %s at once and without a click', (_, make) => {
    const player = new SoundPlayer(sound, context, 0);
    const before = collect(player, 9_600);
    player.setSound(make().sounds[0]!, context);
    const after = collect(player, 9_600);
    const whole = new Float32Array([...before, ...after]);
    // A crossfade or a glide of 512 frames bends the signal a little more than the tones themselves do; a jump would read over 0.1.
    expect(roughness(whole)).toBeLessThan(steady + 0.002);
    const untouched = collect(new SoundPlayer(sound, context, 9_600 + 4_800), 4_800);
    expect(untouched).not.toEqual(after.subarray(4_800));
  });

  it('is silent between clips, and what was turned meanwhile holds from the first sample of the next one', () => {
    const { project: gapped, context: own } = projectWith({ step: mono(new Float32Array(4_800).fill(0.25)) });
    const [steps] = gapped.sounds[0]!.layers;
    const id = gapped.sounds[0]!.id;
    const twice = edited(gapped, 'addClip', { sound: id, layer: steps!.id, source: gapped.sources[0]!.id, start: 0.5 });
    const player = new SoundPlayer(twice.sounds[0]!, own, 0);
    const before = collect(player, 9_600);
    expect(before[100]).toBeCloseTo(0.25, 5);
    expect(before.subarray(4_800).every((sample) => sample === 0)).toBe(true);
    const louder = edited(twice, 'setValues', { sound: id, values: { [`layer/${steps!.id}/gain`]: 6 }, label: 'Gain' });
    player.setSound(louder.sounds[0]!, own);
    const after = collect(player, 24_000);
    const offline = renderSound(louder.sounds[0]!, own, { tail: 'cut at the last clip' }).channels[0]!;
    expect(after.subarray(24_000 - 9_600, 24_000 - 9_600 + 1_000)).toEqual(offline.subarray(24_000, 25_000));
  });

  it('takes over many changes in a row without a click', () => {
    const player = new SoundPlayer(sound, context, 0);
    const parts: number[] = [];
    for (let i = 0; i < 60; i++) {
      player.setSound(
        edited(project, 'moveClips', { sound: sound.id, to: [{ clip: first!.clips[0]!.id, start: i * 0.001 }] }).sounds[0]!,
        context,
      );
      parts.push(...collect(player, 200));
    }
    expect(roughness(Float32Array.from(parts))).toBeLessThan(steady + 0.002);
  });

  it('jumps and loops without a click', () => {
    const player = new SoundPlayer(sound, context, 0);
    player.loop = { from: 4_801, to: 9_777 };
    const output = collect(player, 30_000);
    expect(roughness(output)).toBeLessThan(steady + 0.002);
    expect(player.position).toBeGreaterThanOrEqual(4_801);
    expect(player.position).toBeLessThanOrEqual(9_777);
    player.loop = undefined;
    player.seek(48_000);
    // A jump waits for the crossfade that may be under way, at most 512 frames.
    collect(player, 1_000);
    expect(player.position).toBeGreaterThan(48_400);
    expect(player.position).toBeLessThanOrEqual(49_000);
  });

  it('tells what dynamics take away while they are at work, and nothing of a layer that rests', () => {
    const changed = edited(project, 'addEffect', { sound: sound.id, owner: { layer: first!.id }, effect: 'compressor' });
    const step = changed.sounds[0]!.layers[0]!.chain[0]!.id;
    const squeezed = edited(changed, 'setValues', {
      sound: sound.id,
      values: { [`layer/${first!.id}/chain/${step}/threshold`]: -40, [`layer/${first!.id}/chain/${step}/release`]: 2 },
      label: '',
    });
    const player = new SoundPlayer(squeezed.sounds[0]!, context, 0);
    const reduction = (): number => {
      const into = new Map<string, number>();
      player.gainReductions(into);
      return into.get(step)!;
    };
    collect(player, 48_000);
    expect(reduction()).toBeLessThan(-6);
    // The clip ends after two seconds; once the chain has rung out, the layer sleeps.
    collect(player, 8 * 48_000);
    expect(reduction()).toBe(0);
  });
});

describe('switching on an effect that lags', () => {
  // None of them changes a low tone at this level; all of them give nothing until they have heard as much as they lag by.
  const lagging: [string, string, Record<string, string | number>][] = [
    ['a drawn EQ with a linear phase', 'drawn-eq', { phase: 'linear' }],
    ['a graphic EQ', 'graphic-eq', {}],
    ['a limiter', 'limiter', { gain: 0 }],
  ];
  it.each(lagging)('leaves no hole: %s', (_, effect, values) => {
    const place = { sound: sound.id, owner: { layer: first!.id } };
    const added = edited(project, 'addEffect', { ...place, effect });
    const step = added.sounds[0]!.layers[0]!.chain[0]!.id;
    const addressed = Object.fromEntries(Object.entries(values).map(([key, value]) => [`layer/${first!.id}/chain/${step}/${key}`, value]));
    const on = Object.keys(values).length > 0 ? edited(added, 'setValues', { sound: sound.id, values: addressed, label: '' }) : added;
    const off = edited(on, 'switchEffect', { ...place, step, enabled: false });
    const player = new SoundPlayer(off.sounds[0]!, context, 0);
    const before = collect(player, 24_000);
    player.setSound(on.sounds[0]!, context);
    const after = collect(player, 24_000);
    const offline = renderSound(on.sounds[0]!, context, { tail: 'cut at the last clip' }).channels[0]!;
    expect(residual(offline, before, 1_000, 24_000)).toBeLessThan(-30);
    expect(residual(offline.subarray(24_000), after, 0, 24_000)).toBeLessThan(-30);
  });
});

describe('editing clips while a sound plays', () => {
  const burst = new Float32Array(4_800).map((_, i) => Math.sin(i / 3) * (1 - i / 4_800));
  const ringing = projectWith({ burst: mono(burst) });
  const [layer] = ringing.project.sounds[0]!.layers;
  const clip = layer!.clips[0]!.id;
  const inSound = { sound: ringing.project.sounds[0]!.id };
  const withReverb = edited(ringing.project, 'addEffect', { ...inSound, owner: { layer: layer!.id }, effect: 'reverb' });

  it('leaves what rings in a chain ringing, sample by sample', () => {
    const [left, edit] = [0, 1].map(() => new SoundPlayer(withReverb.sounds[0]!, ringing.context, 0));
    collect(left!, 24_000);
    collect(edit!, 24_000);
    const moved = edited(withReverb, 'moveClips', { ...inSound, to: [{ clip, start: 3 }] }).sounds[0]!;
    edit!.setSound(moved, ringing.context);
    const after = collect(edit!, 48_000);
    expect(Math.max(...after.map(Math.abs))).toBeGreaterThan(0.001);
    expect(after).toEqual(collect(left!, 48_000));
    // The moved clip is heard where it is now.
    collect(edit!, 72_000);
    expect(Math.max(...collect(edit!, 4_800).map(Math.abs))).toBeGreaterThan(0.1);
  });

  it('glides to another gain of a clip, and is then exactly that much quieter', () => {
    const [left, edit] = [0, 1].map(() => new SoundPlayer(sound, context, 0));
    collect(left!, 9_600);
    collect(edit!, 9_600);
    const clips = sound.layers.map(({ id, clips: [only] }) => `layer/${id}/clip/${only!.id}/gain`);
    const values = Object.fromEntries(clips.map((address) => [address, -20]));
    edit!.setSound(edited(project, 'setValues', { sound: sound.id, values, label: '' }).sounds[0]!, context);
    const gliding = collect(edit!, 512);
    expect(roughness(gliding)).toBeLessThan(steady + 0.002);
    collect(left!, 512);
    const loud = collect(left!, 4_800);
    expect(
      residual(
        loud.map((sample) => sample / 10),
        collect(edit!, 4_800),
      ),
    ).toBeLessThan(-120);
  });

  it('does not click however quickly edits follow each other, and ends where the last of them is', () => {
    const player = new SoundPlayer(sound, context, 0);
    collect(player, 9_600);
    let latest = project;
    const heard: number[] = [];
    for (let i = 1; i <= 40; i++) {
      latest = edited(latest, 'moveClips', { sound: sound.id, to: [{ clip: first!.clips[0]!.id, start: i * 0.0007 }] });
      player.setSound(latest.sounds[0]!, context);
      heard.push(...collect(player, 37));
    }
    expect(roughness(Float32Array.from(heard))).toBeLessThan(steady + 0.002);
    collect(player, 1_100);
    const at = player.position;
    const offline = renderSound(latest.sounds[0]!, context, { tail: 'cut at the last clip' }).channels[0]!;
    expect(residual(offline.subarray(at, at + 4_800), collect(player, 4_800))).toBeLessThan(-100);
  });

  it('keeps silent what takes long to treat until it was made elsewhere', () => {
    const address = `layer/${first!.id}/clip/${first!.clips[0]!.id}/speed`;
    const faster = edited(project, 'setValues', { sound: sound.id, values: { [address]: 5 }, label: '' });
    const alone = edited(faster, 'muteLayer', { sound: sound.id, layer: second!.id, muted: true }).sounds[0]!;
    const player = new SoundPlayer(alone, context, 0, new TreatmentCache(undefined, 0.5));
    expect(Math.max(...collect(player, 4_800).map(Math.abs))).toBe(0);
    const fast = alone.layers[0]!.clips[0]!;
    const identity = context.identities.get(fast.source!)!;
    const treated = new Map([[treatmentKey(identity, fast), treatClip(context.library.get(identity)!, fast)]]);
    player.setSound(alone, { ...context, treated });
    expect(roughness(collect(player, 600))).toBeLessThan(steady + 0.002);
    const at = player.position;
    const offline = renderSound(alone, context, { tail: 'cut at the last clip' }).channels[0]!;
    expect(collect(player, 4_800)).toEqual(offline.slice(at, at + 4_800));
  });

  it('goes on with a clip as it was while it is treated anew, and with the new one without a jump when it is there', () => {
    const one = edited(project, 'muteLayer', { sound: sound.id, layer: second!.id, muted: true });
    const clip = one.sounds[0]!.layers[0]!.clips[0]!;
    const shifted = edited(one, 'stretchClips', { sound: sound.id, clips: [clip.id], settings: { pitch: -5, method: 'tones' } }).sounds[0]!;
    const player = new SoundPlayer(one.sounds[0]!, context, 0, new TreatmentCache(undefined, 0.5));
    collect(player, 4_800);
    player.setSound(shifted, context);
    const from = player.position;
    const before = renderSound(one.sounds[0]!, context, { tail: 'cut at the last clip' }).channels[0]!;
    expect(collect(player, 2_400)).toEqual(before.slice(from, from + 2_400));
    const changed = shifted.layers[0]!.clips[0]!;
    const identity = context.identities.get(changed.source!)!;
    const treated = new Map([[treatmentKey(identity, changed), makeTreated(context.library.get(identity)!, changed)]]);
    player.setSound(shifted, { ...context, treated });
    expect(roughness(collect(player, 600))).toBeLessThan(steady + 0.002);
    const at = player.position;
    const after = renderSound(shifted, { ...context, treated }, { tail: 'cut at the last clip' }).channels[0]!;
    expect(collect(player, 2_400)).toEqual(after.slice(at, at + 2_400));
  });

  it('goes over to a piece of what is treated anew, on to the next piece and to the whole, without a jump', () => {
    const one = edited(project, 'muteLayer', { sound: sound.id, layer: second!.id, muted: true });
    const clip = one.sounds[0]!.layers[0]!.clips[0]!;
    const shifted = edited(one, 'stretchClips', { sound: sound.id, clips: [clip.id], settings: { pitch: -5, method: 'tones' } }).sounds[0]!;
    const changed = shifted.layers[0]!.clips[0]!;
    const identity = context.identities.get(changed.source!)!;
    const key = treatmentKey(identity, changed);
    const audio = context.library.get(identity)!;
    const pieces = (from: number, to: number): Map<string, StretchedPiece> =>
      new Map([[key, makeStretchedPiece(audio, changed, pieceSpan(changed, rate, { from, to }))]]);
    const player = new SoundPlayer(one.sounds[0]!, context, 0, new TreatmentCache(undefined, 0.5));
    const heard = [...collect(player, 9_600)];
    player.setSound(shifted, { ...context, pieces: pieces(0.1, 1) });
    heard.push(...collect(player, 24_000));
    player.setSound(shifted, { ...context, pieces: pieces(0.5, 1.5) });
    heard.push(...collect(player, 9_600));
    const treated = new Map([[key, makeTreated(audio, changed)]]);
    player.setSound(shifted, { ...context, treated, pieces: pieces(0.5, 1.5) });
    heard.push(...collect(player, 9_600));
    expect(roughness(Float32Array.from(heard))).toBeLessThan(steady + 0.002);
    // It has been the shifted tone since the first piece was there.
    const lowered = 90 * 2 ** (-5 / 12);
    expect(amplitudeAt(Float32Array.from(heard), lowered, rate, 12_000, 33_000)).toBeGreaterThan(0.45);
    const at = player.position;
    const after = renderSound(shifted, { ...context, treated }, { tail: 'cut at the last clip' }).channels[0]!;
    expect(collect(player, 2_400)).toEqual(after.slice(at, at + 2_400));
  });

  it('plays what was still being loaded as soon as it is there, in clips and in effects', () => {
    const later = projectWith({ Wind: mono(noise(2 * rate, 3, -12)), Hall: mono(noise(4_800, 9, -6)) });
    const { id: soundId } = later.project.sounds[0]!;
    const hall = later.project.sounds[0]!.layers[1]!.id;
    let loaded = edited(later.project, 'removeLayer', { sound: soundId, layer: hall });
    loaded = edited(loaded, 'addEffect', { sound: soundId, owner: 'sound', effect: 'convolution' });
    const step = loaded.sounds[0]!.chain[0]!.id;
    const response = `source/${loaded.sources[1]!.id}`;
    loaded = edited(loaded, 'setValues', { sound: soundId, values: { [`sound/chain/${step}/response`]: response }, label: 'Response' });
    const target = loaded.sounds[0]!;
    const waiting = { ...later.context, library: new Map() };
    const player = new SoundPlayer(target, waiting, 0);
    expect(collect(player, 4_800).every((sample) => sample === 0)).toBe(true);
    player.setSound(target, later.context);
    collect(player, rate);
    const whole = renderSound(target, later.context, { tail: 'cut at the last clip' }).channels[0]!;
    const heard = collect(player, 9_600);
    expect(residual(whole.subarray(4_800 + rate, 4_800 + rate + 9_600), heard)).toBeLessThan(-80);
  });
});
