import { createSound, patchPresets, plainStretch, seatingBands } from '@tangled-choir/core';
import { EngineLoop } from './engine-loop';
import type { EngineReport } from '../protocol';
import { ringCapacity, ringReserve, ringSlotCount, ringSlots, ringTarget } from './ring';

const hash = 'a'.repeat(64);
const clip = {
  id: 'c',
  source: 's',
  start: 0,
  offset: 0,
  length: 0.5,
  gain: 0,
  speed: 0,
  ...plainStretch,
  reversed: false,
  locked: false,
  fadeIn: { length: 0, shape: 'linear' as const },
  fadeOut: { length: 0, shape: 'linear' as const },
};
const layer = {
  id: 'l',
  name: 'Ice',
  role: 'Body' as const,
  gain: 0,
  pan: 0,
  muted: false,
  soloed: false,
  sends: [],
  overlaps: 'sum' as const,
  clips: [clip],
  chain: [],
};
const sound = { ...createSound('sound', 'Slab'), layers: [layer] };
const audio = new Map([[hash, { sampleRate: 48_000, channels: [new Float32Array(24_000).fill(0.25)] }]]);
const renderable = { sound, sampleRate: 48_000, identities: new Map([['s', hash]]), audio };

const play = (what: 'sound' | 'audition', position: number, speed = 1, until = 0) =>
  ({ type: 'play', what, position, speed, until }) as const;

function connected() {
  const reports: EngineReport[] = [];
  const loop = new EngineLoop((report) => reports.push(report));
  const samples = new Float32Array(ringCapacity * 2);
  const control = new Int32Array(new SharedArrayBuffer(ringSlotCount * 4));
  loop.receive({ type: 'connect', sampleRate: 48_000, samples, control });
  loop.receive({ type: 'sound', ...renderable });
  return { loop, reports, samples, control };
}

describe('the engine’s loop', () => {
  it('keeps the ring filled just far enough for an edit to be heard within 100 ms', () => {
    const { loop, samples, control } = connected();
    loop.receive(play('sound', 0));
    loop.fill();
    const ready = control[ringSlots.written]!;
    expect(ready).toBeGreaterThanOrEqual(ringTarget);
    expect(ready / 48_000).toBeLessThan(0.08);
    expect(control[ringSlots.playing]).toBe(1);
    // A machine that cannot keep up with that gets more time, as far as the ring is long.
    control[ringSlots.underruns] = 1;
    loop.fill();
    expect(control[ringSlots.written]! - ready).toBeGreaterThan(ringReserve - 480);
    for (let gaps = 2; gaps < 20; gaps++) {
      control[ringSlots.underruns] = gaps;
      loop.fill();
    }
    expect(control[ringSlots.written]).toBeLessThanOrEqual(ringCapacity);
    expect(samples[100]).toBeCloseTo(0.25, 6);
    expect(samples[ringCapacity + 100]).toBeCloseTo(0.25, 6);
  });

  it('rests when nothing plays and nothing waits to be treated', () => {
    const { loop } = connected();
    expect(loop.resting).toBe(true);
    loop.receive(play('sound', 0));
    expect(loop.resting).toBe(false);
    loop.receive({ type: 'stop' });
    expect(loop.resting).toBe(true);
    const reversed = { ...sound, layers: [{ ...layer, clips: [{ ...clip, reversed: true }] }] };
    loop.receive({ type: 'sound', ...renderable, sound: reversed });
    expect(loop.resting).toBe(false);
    loop.fill();
    expect(loop.resting).toBe(true);
  });

  it('plays a sound in as many channels as it has, what a recording lacks of them as silence', () => {
    const { loop, samples: stereo } = connected();
    const surround = { ...renderable, sound: { ...sound, layout: '5.1' as const } };
    const samples = new Float32Array(ringCapacity * 6).fill(0.5);
    const control = new Int32Array(new SharedArrayBuffer(ringSlotCount * 4));
    loop.receive({ type: 'connect', sampleRate: 48_000, samples, control });
    loop.receive({ type: 'sound', ...surround });
    loop.receive(play('sound', 0));
    loop.fill();
    const at = (place: number) => Array.from({ length: 6 }, (_, c) => samples[c * ringCapacity + place]!);
    // What has one channel stands in the front pair.
    expect(at(1_000)).toEqual([0.25, 0.25, 0, 0, 0, 0]);
    expect(stereo[1_000]).toBe(0);
    // A sound of other channels cannot go on where this one plays.
    loop.receive({ type: 'sound', ...renderable });
    expect(control[ringSlots.playing]).toBe(0);
    loop.receive({ type: 'audition', audio: audio.get(hash)!, part: undefined });
    loop.receive(play('audition', 0));
    // All of it was heard.
    const from = (control[ringSlots.read] = control[ringSlots.written]!);
    loop.fill();
    expect(at(from + 500)).toEqual([0.25, 0.25, 0, 0, 0, 0]);
  });

  it('takes messages in between when a sound is too heavy: what is rendered is gone before the next is ready', () => {
    const reports: EngineReport[] = [];
    const control = new Int32Array(new SharedArrayBuffer(ringSlotCount * 4));
    const loop = new EngineLoop((report) => {
      reports.push(report);
      control[ringSlots.read] = control[ringSlots.written]!;
    });
    loop.receive({ type: 'connect', sampleRate: 48_000, samples: new Float32Array(ringCapacity * 2), control });
    loop.receive({ type: 'sound', ...renderable });
    loop.receive(play('sound', 0));
    loop.fill();
    expect(reports.some(({ type }) => type === 'end')).toBe(false);
    const written = control[ringSlots.written]!;
    expect(written).toBeGreaterThanOrEqual(ringTarget);
    expect(written / 48_000).toBeLessThan(0.08);
    loop.receive({ type: 'stop' });
    loop.fill();
    expect(control[ringSlots.written]).toBe(written);
  });

  it('lets an edited gain be heard from the next samples on', () => {
    const { loop, samples, control } = connected();
    loop.receive(play('sound', 0));
    loop.fill();
    loop.receive({ type: 'sound', ...renderable, sound: { ...sound, layers: [{ ...layer, gain: -6.0206 }] } });
    control[ringSlots.read] = control[ringSlots.written]!;
    loop.fill();
    expect(samples[control[ringSlots.written]! - 1]).toBeCloseTo(0.125, 3);
  });

  it('tells where it plays, drops what lies ahead on a jump, and reports the end', () => {
    const { loop, reports, control } = connected();
    loop.receive(play('sound', 4_800));
    expect(reports).toContainEqual({ type: 'anchor', index: 0, position: 4_800, speed: 1 });
    loop.fill();
    const written = control[ringSlots.written]!;
    loop.receive({ type: 'seek', position: 12_000 });
    expect(control[ringSlots.discardTo]).toBe(written);
    expect(reports.at(-1)).toMatchObject({ type: 'anchor', index: written });
    for (let i = 0; i < 40; i++) {
      control[ringSlots.read] = control[ringSlots.written]!;
      loop.fill();
    }
    expect(reports.filter((report) => report.type === 'end')).toHaveLength(1);
  });

  it('plays slowly: says at which pace it goes on, hears edits, and ends when the picture does', () => {
    const { loop, reports, samples, control } = connected();
    loop.receive(play('sound', 4_800, 0.5, 30_000));
    expect(reports).toContainEqual({ type: 'anchor', index: 0, position: 4_800, speed: 0.5 });
    loop.fill();
    expect(samples[3_000]).toBeCloseTo(0.25, 3);
    loop.receive({ type: 'sound', ...renderable, sound: { ...sound, gain: -6.0206 } });
    for (let i = 0; i < 3; i++) {
      control[ringSlots.read] = control[ringSlots.written]!;
      loop.fill();
    }
    expect(samples[(control[ringSlots.written]! - 1) % ringCapacity]).toBeCloseTo(0.125, 2);
    for (let i = 0; i < 40; i++) {
      control[ringSlots.read] = control[ringSlots.written]!;
      loop.fill();
    }
    // The sound ends at 24,000; the picture at 30,000, which lie twice as far apart when slowed down.
    const end = reports.find((report) => report.type === 'end');
    expect(end?.index).toBeGreaterThanOrEqual((30_000 - 4_800) * 2);
    expect(end?.index).toBeLessThan((30_000 - 4_800) * 2 + 4_800);
    expect(reports.filter((report) => report.type === 'anchor')).toHaveLength(1);
  });

  it('plays another version beside the sound, with sources of its own, and ends the comparison where it is', () => {
    const { loop, reports, samples, control } = connected();
    const goOn = (): number => {
      for (let i = 0; i < 2; i++) {
        control[ringSlots.read] = control[ringSlots.written]!;
        loop.fill();
      }
      return samples[(control[ringSlots.written]! - 1) % ringCapacity]!;
    };
    const otherHash = 'b'.repeat(64);
    const other = {
      ...renderable,
      sound: { ...sound, layers: [{ ...layer, clips: [{ ...clip, source: 'gone' }] }] },
      identities: new Map([['gone', otherHash]]),
      audio: new Map([[otherHash, { sampleRate: 48_000, channels: [new Float32Array(24_000).fill(-0.5)] }]]),
    };
    loop.receive(play('sound', 0));
    loop.receive({ type: 'compare', other });
    expect(goOn()).toBeCloseTo(0.25, 3);
    loop.receive({ type: 'hear', which: 'B' });
    // The other way round, at about the same loudness.
    expect(goOn()).toBeLessThan(-0.2);
    loop.receive({ type: 'compare', other: undefined });
    expect(goOn()).toBeCloseTo(0.25, 3);
    expect(reports.filter((report) => report.type === 'anchor')).toHaveLength(1);
  });

  it('tells what the steps of a chain change, and how the layers sit, while somebody wants to know', () => {
    const { loop, reports, control } = connected();
    const chain = [{ id: 'step-1', effect: 'trim', enabled: true, mix: 1, parameters: { gain: -6.0206 } }];
    loop.receive({ type: 'sound', ...renderable, sound: { ...sound, layers: [{ ...layer, chain }] } });
    loop.receive({ type: 'tap', chain, open: 'step-1', alone: undefined });
    loop.receive({ type: 'seating', on: true });
    loop.receive(play('sound', 0));
    for (let i = 0; i < 6; i++) {
      control[ringSlots.read] = control[ringSlots.written]!;
      loop.fill();
    }
    const latest = reports.findLast((report) => report.type === 'meters');
    const change = latest?.type === 'meters' ? latest.meters.changes.get('step-1') : undefined;
    expect(change?.audible).toBe(false);
    expect(change?.gain).toBeCloseTo(-6.02, 1);
    expect(latest?.type === 'meters' && latest.meters.seating?.layers.map((seat) => seat.layer)).toEqual([layer.id]);
    loop.receive({ type: 'seating', on: false });
    control[ringSlots.read] = control[ringSlots.written]!;
    loop.fill();
    const after = reports.findLast((report) => report.type === 'meters');
    expect(after?.type === 'meters' && after.meters.seating).toBeUndefined();
  });

  it('lets a guide be heard and seated beside the layers while it is on, behind the meters of the sound', () => {
    const { loop, reports, samples, control } = connected();
    const audio = { sampleRate: 48_000, channels: [Float32Array.from({ length: 24_000 }, (_, i) => 0.5 * Math.sin(i / 4))] };
    const guide = { hash: 'b'.repeat(64), audio };
    const place = { source: 'call', start: 0, gain: 0, on: true, repeats: true };
    const take = (changes: Partial<typeof place>): void =>
      loop.receive({ type: 'sound', ...renderable, sound: { ...sound, guide: { ...place, ...changes } }, guide });
    take({});
    loop.receive({ type: 'loop', loop: { from: 0, to: 19_200 } });
    loop.receive({ type: 'seating', on: true });
    loop.receive(play('sound', 0));
    const run = (): Float32Array => {
      for (let i = 0; i < 8; i++) {
        control[ringSlots.read] = control[ringSlots.written]!;
        loop.fill();
      }
      const last = control[ringSlots.written]!;
      return Float32Array.from({ length: 480 }, (_, i) => samples[(last - 480 + i) & (ringCapacity - 1)]!);
    };
    const meters = () => {
      const latest = reports.findLast((report) => report.type === 'meters');
      return latest?.type === 'meters' ? latest.meters : undefined;
    };
    const spread = (heard: Float32Array): number => Math.max(...heard) - Math.min(...heard);
    expect(spread(run())).toBeCloseTo(1, 1);
    const seats = meters()!.seating!.layers;
    expect(seats.map((seat) => seat.layer)).toEqual([layer.id, 'guide']);
    // A tone of 1.9 kHz has its energy there; the layer, a constant, has not.
    const loudest = (levels: readonly number[]): number => levels.indexOf(Math.max(...levels));
    expect(Math.abs(seatingBands[loudest(seats[1]!.levels)]! / 1_910 - 1)).toBeLessThan(0.2);
    expect(meters()!.truePeak).toBeLessThan(-10);
    take({ gain: -6.0206 });
    expect(spread(run())).toBeCloseTo(0.5, 1);
    take({ on: false });
    expect(spread(run())).toBeLessThan(1e-6);
    expect(meters()!.seating!.layers.map((seat) => seat.layer)).toEqual([layer.id]);
  });

  it('slows the guide down with the sound, and leaves it out where only the change of a step is heard', () => {
    const { loop, samples, control } = connected();
    const audio = { sampleRate: 48_000, channels: [Float32Array.from({ length: 96_000 }, (_, i) => 0.5 * Math.sin(i / 4))] };
    const chain = [{ id: 'step-1', effect: 'trim', enabled: true, mix: 1, parameters: { gain: 0 } }];
    const guided = { ...sound, layers: [{ ...layer, chain }], guide: { source: 'call', start: 0, gain: 0, on: true, repeats: true } };
    loop.receive({ type: 'sound', ...renderable, sound: guided, guide: { hash: 'b'.repeat(64), audio } });
    const heard = (): Float32Array => {
      for (let i = 0; i < 20; i++) {
        control[ringSlots.read] = control[ringSlots.written]!;
        loop.fill();
      }
      const last = control[ringSlots.written]!;
      return Float32Array.from({ length: 480 }, (_, i) => samples[(last - 480 + i) & (ringCapacity - 1)]! - 0.25);
    };
    loop.receive({ ...play('sound', 0), speed: 0.5, until: 96_000 });
    const slow = heard();
    // Its pitch stays: a round of the tone takes 8 π frames.
    const risings = [...slow.keys()].filter((i) => i > 0 && slow[i - 1]! < 0 && slow[i]! >= 0);
    expect((risings.at(-1)! - risings[0]!) / (risings.length - 1)).toBeCloseTo(8 * Math.PI, 0);
    loop.receive({ type: 'stop' });
    loop.receive({ type: 'tap', chain, open: 'step-1', alone: { step: 'step-1', what: 'change' } });
    loop.receive(play('sound', 0));
    expect(Math.max(...heard().map((sample) => Math.abs(sample + 0.25)))).toBeLessThan(1e-3);
  });

  it('lets one band of what goes into a step be heard alone, and the change of a step', () => {
    const { loop, samples, control } = connected();
    const chain = [{ id: 'step-1', effect: 'trim', enabled: true, mix: 1, parameters: { gain: -6.0206 } }];
    loop.receive({ type: 'sound', ...renderable, sound: { ...sound, layers: [{ ...layer, chain }] } });
    loop.receive({ type: 'loop', loop: { from: 0, to: 20_000 } });
    loop.receive(play('sound', 0));
    const heard = (): number => {
      for (let i = 0; i < 40; i++) {
        control[ringSlots.read] = control[ringSlots.written]!;
        loop.fill();
      }
      return samples[(control[ringSlots.written]! - 1) & (ringCapacity - 1)]!;
    };
    expect(heard()).toBeCloseTo(0.125, 3);
    const alone = (part: 'below' | 'above') => ({ step: 'step-1', what: { part, frequency: 400, q: 1 } });
    loop.receive({ type: 'tap', chain, open: 'step-1', alone: alone('below') });
    // A constant lies below everything, and goes into the step at 0.25.
    expect(heard()).toBeCloseTo(0.25, 2);
    loop.receive({ type: 'tap', chain, open: 'step-1', alone: alone('above') });
    expect(heard()).toBeCloseTo(0, 2);
    loop.receive({ type: 'tap', chain, open: 'step-1', alone: { step: 'step-1', what: 'change' } });
    expect(heard()).toBeCloseTo(0, 2);
    loop.receive({ type: 'tap', chain, open: 'step-1', alone: undefined });
    expect(heard()).toBeCloseTo(0.125, 3);
  });

  it('lets hands be heard sooner than edits: on the sound as it stands, without its clips and without an end', () => {
    const { loop, reports, samples, control } = connected();
    const { patch } = patchPresets.find(({ name }) => name === 'Beacon')!;
    const made = { ...layer, id: 'made', clips: [], patch };
    loop.receive({ type: 'sound', ...renderable, sound: { ...sound, layers: [layer, made] } });
    loop.receive({ type: 'hands', on: true });
    loop.receive({ type: 'play', what: 'hands', position: 0, speed: 1, until: 0 });
    loop.fill();
    expect(control[ringSlots.written]! / 48_000).toBeLessThan(0.03);
    const run = (): number => {
      let most = 0;
      for (let i = 0; i < 20; i++) {
        const from = (control[ringSlots.read] = control[ringSlots.written]!);
        loop.fill();
        for (let at = from; at < control[ringSlots.written]!; at++) most = Math.max(most, Math.abs(samples[at & (ringCapacity - 1)]!));
      }
      return most;
    };
    // The clip of the other layer is a constant.
    expect(run()).toBe(0);
    loop.receive({ type: 'strike', layer: 'made', note: { id: 'k', pitch: 69, strength: 1 } });
    expect(run()).toBeGreaterThan(0.05);
    loop.receive({ type: 'letGo', layer: 'made', key: 'k' });
    for (let i = 0; i < 8; i++) run();
    expect(run()).toBeLessThan(1e-4);
    expect(reports.some(({ type }) => type === 'end')).toBe(false);
  });

  it('loops on without an end', () => {
    const { loop, reports, control } = connected();
    loop.receive({ type: 'loop', loop: { from: 0, to: 10_000 } });
    loop.receive(play('sound', 0));
    for (let i = 0; i < 40; i++) {
      control[ringSlots.read] = control[ringSlots.written]!;
      loop.fill();
    }
    expect(reports.some((report) => report.type === 'end')).toBe(false);
    expect(reports.filter((report) => report.type === 'anchor').length).toBeGreaterThan(5);
  });

  it('measures what it plays', () => {
    const { loop, reports, control } = connected();
    loop.receive(play('sound', 0));
    for (let i = 0; i < 10; i++) {
      control[ringSlots.read] = control[ringSlots.written]!;
      loop.fill();
    }
    const meters = reports.filter((report) => report.type === 'meters').at(-1);
    if (meters?.type !== 'meters') throw new Error('Nothing was measured.');
    expect(meters.meters.truePeak).toBeGreaterThan(-13);
    // One layer in mono, on a chain of the whole sound.
    expect(meters.meters.correlation).toBeCloseTo(1, 3);
    expect([...meters.meters.loads.keys()].sort()).toEqual([expect.stringMatching(/^layer\//), 'sound']);
    for (const load of meters.meters.loads.values()) expect(load).toBeGreaterThanOrEqual(0);
  });

  it('shows spectrum, field and range of what it plays while somebody looks', () => {
    const { loop, reports, control } = connected();
    const read = () => {
      for (let i = 0; i < 10; i++) {
        control[ringSlots.read] = control[ringSlots.written]!;
        loop.fill();
      }
      const meters = reports.filter((report) => report.type === 'meters').at(-1);
      return meters?.type === 'meters' ? meters.meters.output : undefined;
    };
    loop.receive({ type: 'loop', loop: { from: 0, to: 20_000 } });
    loop.receive(play('sound', 0));
    expect(read()).toBeUndefined();
    loop.receive({ type: 'output', on: true });
    const output = read()!;
    // A constant on both sides: all in the middle, nothing at 10 kHz.
    expect(output.field!.indexOf(1)).toBe((output.field!.length - 1) / 2);
    expect(output.peak!.every((level, i) => level >= output.average![i]!)).toBe(true);
    expect(output.spectrum[0]!).toBeGreaterThan(output.spectrum[144]! + 40);
    expect(output.range).toBe(0);
    loop.receive({ type: 'output', on: false });
    expect(read()).toBeUndefined();
  });

  it('plays a recording and stops', () => {
    const { loop, samples, control } = connected();
    loop.receive({ type: 'audition', part: undefined, audio: { sampleRate: 48_000, channels: [new Float32Array(1_000).fill(0.5)] } });
    loop.receive(play('audition', 0));
    loop.fill();
    expect(samples[10]).toBe(0.5);
    loop.receive({ type: 'stop' });
    expect(control[ringSlots.playing]).toBe(0);
  });
});
