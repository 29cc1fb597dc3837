import fc from 'fast-check';
import type { Audio } from '../audio/audio';
import { loudest, recording, testBehaviour, testConduct, tone, trigger, unlike } from '../testing/conduct';
import type { Behaviour, GameMove } from './conduct-data';
import { ConductEngine } from './engine';
import { hearAt, levelAt } from './hearing';
import { ConductMixer } from './mixer';
import { perform } from './perform';

const second = 48_000;
const thud = testBehaviour('step');

function hear(
  behaviours: readonly Behaviour[],
  moves: readonly (readonly [number, GameMove])[],
  seconds: number,
  assets: Record<string, Audio>,
) {
  const list = moves.map(([at, move]) => ({ at, move }));
  return perform(testConduct(behaviours), new Map(Object.entries(assets)), { moves: list, seconds }).audio.channels;
}

/** Amplitude of a frequency in a stretch, by correlation with whole periods of it. */
function amplitude(samples: Float32Array, hertz: number, from: number, to: number): number {
  let [re, im] = [0, 0];
  for (let i = from; i < to; i++) {
    const phase = (2 * Math.PI * hertz * i) / second;
    re += samples[i]! * Math.cos(phase);
    im += samples[i]! * Math.sin(phase);
  }
  return (2 * Math.hypot(re, im)) / (to - from);
}

describe('the mixer', () => {
  it('plays what is neither turned nor moved sample by sample, at the frame of the call', () => {
    const [left, right] = hear([thud], [[0.3, trigger('step')]], 1, { 'thud/original': recording(unlike) });
    expect(Array.from(left!.subarray(14_400, 24_000))).toEqual(Array.from(unlike));
    expect(right).toEqual(left);
    expect(left!.subarray(0, 14_400).every((sample) => sample === 0)).toBe(true);
    expect(left!.subarray(24_000).every((sample) => sample === 0)).toBe(true);
  });

  it('keeps the two sides of what is stereo', () => {
    const other = unlike.map((sample) => -sample / 3);
    const [left, right] = hear([thud], [[0, trigger('step')]], 0.2, { 'thud/original': recording(unlike, other) });
    expect(Array.from(left!)).toEqual(Array.from(unlike));
    expect(Array.from(right!)).toEqual(Array.from(other));
  });

  it('plays a tone at another pitch as that pitch', () => {
    const [left] = hear([{ ...thud, pitch: 7, gain: -6 }], [[0, trigger('step')]], 0.2, { 'thud/original': recording(tone(9_600, 1_000)) });
    const wanted = 1_000 * 2 ** (7 / 12);
    const expected = Float32Array.from({ length: 6_000 }, (_, i) => 0.5 * 10 ** (-6 / 20) * Math.sin((2 * Math.PI * wanted * i) / second));
    const error = expected.map((sample, i) => sample - left![i]!).subarray(50);
    expect(loudest(error)).toBeLessThan(2e-4);
  });

  it('goes round a loop without a seam, at any pitch', () => {
    // 440 Hz has whole periods in the second from 4,800 to 52,800.
    const loop = testBehaviour('hum', { kind: 'one', sound: 'hum', from: 'original', avoid: 0, loops: true }, { pitch: 3.3 });
    const recorded = tone(60_000, 440);
    recorded.fill(0, 52_800);
    const [left] = hear([loop], [[0, trigger('hum')]], 5, { 'hum/original': recording(recorded) });
    const wanted = 440 * 2 ** (3.3 / 12);
    const expected = Float32Array.from({ length: 5 * second }, (_, i) => 0.5 * Math.sin((2 * Math.PI * wanted * i) / second));
    const error = expected.map((sample, i) => sample - left![i]!).subarray(50);
    expect(loudest(error)).toBeLessThan(2e-4);
  });

  it('joins a start, a hold and an end without losing or doubling a sample', () => {
    const stages = (['start', 'hold', 'end'] as const).map((stage) => {
      const loops = stage === 'hold';
      const child = testBehaviour(
        stage,
        { kind: 'one', sound: loops ? 'hum' : 'thud', from: 'original', avoid: 0, loops },
        { parent: 'drill' },
      );
      return { ...child, slot: { ...child.slot, stage } };
    });
    const drill = testBehaviour('drill', { kind: 'hold', stopInStart: 'finish', leave: 'end of round', release: 0.05 });
    const ones = (length: number) => recording(new Float32Array(length).fill(1));
    const [left] = hear(
      [drill, ...stages],
      [
        [0, trigger('drill')],
        [3, { do: 'stop', behaviour: 'drill' }],
      ],
      6,
      { 'thud/original': ones(9_600), 'hum/original': ones(60_000) },
    );
    const end = 9_600 + 52_800 + 2 * 48_000 + 9_600;
    expect(left!.subarray(0, end).every((sample) => sample === 1)).toBe(true);
    expect(left!.subarray(end).every((sample) => sample === 0)).toBe(true);
  });

  it('fades in and out in straight lines', () => {
    const loop = testBehaviour('hum', { kind: 'one', sound: 'hum', from: 'original', avoid: 0, loops: true }, { fadeIn: 0.5, fadeOut: 1 });
    const moves = [
      [0, trigger('hum')],
      [2, { do: 'stop', behaviour: 'hum' }],
    ] as const;
    const [left] = hear([loop], moves, 4, { 'hum/original': recording(new Float32Array(60_000).fill(1)) });
    expect([0, 0.25, 0.5, 1.9, 2.5, 2.75, 3.01].map((time) => Math.round(left![Math.round(time * second)]! * 1_000) / 1_000)).toEqual([
      0, 0.5, 1, 1, 0.5, 0.25, 0,
    ]);
  });

  it('takes off the highs by two poles', () => {
    const loop = { kind: 'one', sound: 'hum', from: 'original', avoid: 0, loops: true } as const;
    const at = (hertz: number) => {
      const recorded = tone(60_000, hertz, 1);
      const [left] = hear([testBehaviour('hum', loop, { highCut: 1_000 })], [[0, trigger('hum')]], 2, {
        'hum/original': recording(recorded),
      });
      return 20 * Math.log10(amplitude(left!, hertz, second, 2 * second));
    };
    // A Butterworth filter, bent by the bilinear transform.
    const formula = (hertz: number): number => {
      const bent = Math.tan((Math.PI * hertz) / second) / Math.tan((Math.PI * 1_000) / second);
      return -10 * Math.log10(1 + bent ** 4);
    };
    for (const hertz of [100, 1_000, 3_000, 8_000]) expect(at(hertz)).toBeCloseTo(formula(hertz), 2);
  });

  it('is the same in blocks of any size', () => {
    const ice = testBehaviour('ice', { kind: 'sprinkle', shortest: 0.02, longest: 0.1 }, { pitchSpread: 4, gainSpread: 6 });
    const ping = testBehaviour(
      'ping',
      { kind: 'one', sound: 'thud', from: 'original', avoid: 0, loops: false },
      { parent: 'ice', highCut: 4_000 },
    );
    const data = testConduct([ice, ping]);
    const render = (sizes: readonly number[]): Float32Array => {
      const [engine, mixer] = [new ConductEngine(data), new ConductMixer(second)];
      mixer.setAsset('thud/original', [unlike]);
      engine.move(trigger('ice'), 100);
      const output = new Float32Array(second);
      const other = new Float32Array(second);
      for (let from = 0, i = 0; from < second; i++) {
        const count = Math.min(second - from, sizes[i % sizes.length]!);
        mixer.take(engine.advance(from + count));
        mixer.render(output.subarray(from), other.subarray(from), count);
        from += count;
      }
      return output;
    };
    const whole = render([second]);
    expect(loudest(whole)).toBeGreaterThan(0.2);
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 5_000 }), { minLength: 1, maxLength: 8 }), (sizes) => {
        const other = render(sizes.map((size) => size + 60));
        expect(other.findIndex((sample, i) => sample !== whole[i])).toBe(-1);
      }),
      { numRuns: 20 },
    );
  });
});

describe('distance', () => {
  const wide = { inner: 2, outer: 50, law: 'inverse', highCut: 20_000, width: 1, doppler: 0, roomNear: 0, roomFar: 0, curve: [] } as const;

  it('loses 6 dB per doubling, all of it at the outer end, and nothing within the inner', () => {
    const level = (metres: number) => 20 * Math.log10(levelAt(wide, metres));
    expect(level(1)).toBe(0);
    expect(level(2)).toBe(0);
    expect(level(4) - level(8)).toBeCloseTo(6.02, 1);
    expect(level(16) - level(32)).toBeCloseTo(6.02, 1);
    expect(levelAt(wide, 50)).toBe(0);
    expect(levelAt({ ...wide, law: 'even' }, 26)).toBeCloseTo(10 ** (-30 / 20), 6);
    expect(levelAt({ ...wide, law: 'slow' }, 26)).toBeCloseTo(Math.SQRT1_2, 6);
  });

  it('falls all along the way, whatever the law', () => {
    fc.assert(
      fc.property(fc.constantFrom('inverse', 'even', 'slow' as const), fc.double({ min: 0, max: 60, noNaN: true }), (law, metres) => {
        const near = levelAt({ ...wide, law: law as 'inverse' }, metres);
        const far = levelAt({ ...wide, law: law as 'inverse' }, metres + 0.5);
        expect(far).toBeLessThanOrEqual(near + 1e-12);
      }),
    );
  });

  it('is heard from the side where it is, as one faces it', () => {
    const listener = { x: 0, y: 0, facing: 0 };
    expect(hearAt(wide, listener, { x: 10, y: 0 }).pan).toBeCloseTo(1, 9);
    expect(hearAt(wide, listener, { x: -10, y: 0 }).pan).toBeCloseTo(-1, 9);
    expect(hearAt(wide, listener, { x: 0, y: 10 }).pan).toBeCloseTo(0, 9);
    expect(hearAt(wide, { ...listener, facing: 90 }, { x: 0, y: 10 }).pan).toBeCloseTo(-1, 9);
    expect(hearAt(wide, listener, { x: 1, y: 0 }).pan).toBeCloseTo(0.5, 9);
    expect(hearAt(wide, listener, { x: 0, y: 0 }).pan).toBe(0);
    expect(hearAt({ ...wide, highCut: 500 }, listener, { x: 50, y: 0 }).highCut).toBeCloseTo(500, 6);
  });

  it('pans with even power, and raises the pitch of what comes nearer', () => {
    const passing = testBehaviour(
      'hum',
      { kind: 'one', sound: 'hum', from: 'original', avoid: 0, loops: true },
      { distance: { ...wide, inner: 0, outer: 1_000, law: 'slow', doppler: 1 } },
    );
    const engine = new ConductEngine(testConduct([passing]));
    engine.move({ do: 'emitter', emitter: 'hum', x: 60, y: 0 });
    engine.move(trigger('hum'));
    // 20 m a second, straight towards the listener.
    for (let step = 1; step <= 100; step++) engine.move({ do: 'emitter', emitter: 'hum', x: 60 - 0.2 * step, y: 0 }, step * 480);
    engine.advance(second / 2);
    const [voice] = [...engine.state.voices.values()];
    expect(voice!.ratio).toBeCloseTo(325 / (325 - 20), 6);
    expect(voice!.pan).toBeCloseTo(1, 9);
  });
});

describe('a drawn fall with distance', () => {
  const drawn = { inner: 2, outer: 52, law: 'drawn' as const };

  it('is as its points say, in dB in straight lines; nothing below −60 dB and beyond the outer end', () => {
    const curve = [
      { at: 0, value: 0 },
      { at: 0.5, value: -20 },
      { at: 0.8, value: -60 },
    ];
    const level = (metres: number): number => 20 * Math.log10(levelAt({ ...drawn, curve }, metres));
    expect(level(0)).toBe(0);
    expect(level(14.5)).toBeCloseTo(-10, 6);
    expect(level(27)).toBeCloseTo(-20, 6);
    expect(levelAt({ ...drawn, curve }, 45)).toBe(0);
    expect(levelAt({ ...drawn, curve: [] }, 30)).toBe(1);
    expect(levelAt({ ...drawn, curve: [] }, 52)).toBe(0);
    // It goes out before its end, whatever is drawn.
    expect(levelAt({ ...drawn, curve: [] }, 49.5)).toBeCloseTo(0.5, 6);
  });
});
