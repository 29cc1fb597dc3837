import { ArrangeBench } from '../testing/arrange-bench';
import { amplitudeAt, largest, mono, noise, residual, sine } from '../testing/signals';
import { plainStretch } from '../project/create';
import { clipDuration, sourceToAxis } from '../project/time/clip-times';
import { treatClip, treatmentKey } from './treat-clip';
import type { Treatment } from './treatment';

const rate = 48_000;
const treatment = (changes: Partial<Treatment> = {}): Treatment => ({
  offset: 0,
  length: 2,
  speed: 0,
  reversed: false,
  ...plainStretch,
  ...changes,
});
const played = (samples: Float32Array, changes: Partial<Treatment>): Float32Array =>
  treatClip(mono(samples), treatment(changes)).channels[0]!;

/** Frequency of a steady tone, in cents from what is expected, by the phases of two stretches of it. */
function centsOff(samples: Float32Array, expected: number): number {
  const from = Math.round(samples.length * 0.4);
  const apart = Math.round(rate / 20);
  const phase = (at: number): number => {
    let [re, im] = [0, 0];
    for (let i = at; i < at + 9_600; i++) {
      const weight = 0.5 - 0.5 * Math.cos((2 * Math.PI * (i - at)) / 9_600);
      re += weight * samples[i]! * Math.cos((2 * Math.PI * expected * i) / rate);
      im -= weight * samples[i]! * Math.sin((2 * Math.PI * expected * i) / rate);
    }
    return Math.atan2(im, re);
  };
  let turn = phase(from + apart) - phase(from);
  turn -= 2 * Math.PI * Math.round(turn / (2 * Math.PI));
  return 1_200 * Math.log2(1 + turn / (2 * Math.PI * expected * (apart / rate)));
}

describe('a clip that is shifted', () => {
  // The floor is 2 cents; reached is a hundredth of one.
  it.each([-36, -12, -7.31, 0.5, 7, 12, 36])('by %f st has that pitch and its own length', (pitch) => {
    const tone = sine(440, 2, rate, -6);
    const out = played(tone, { pitch, method: 'tones' });
    expect(out).toHaveLength(2 * rate);
    expect(Math.abs(centsOff(out, 440 * 2 ** (pitch / 12)))).toBeLessThan(0.1);
  });

  it('glides along a curve, while its length stays', () => {
    const curves = {
      pitch: [
        { at: 0.5, value: 0 },
        { at: 1.5, value: -12 },
      ],
    };
    const out = played(sine(880, 2, rate, -6), { curves, method: 'tones' });
    expect(out).toHaveLength(2 * rate);
    const loudness = (frequency: number, from: number): number => amplitudeAt(out, frequency, rate, from * rate, (from + 0.2) * rate);
    expect(loudness(880, 0.2)).toBeGreaterThan(0.45);
    expect(loudness(440, 1.7)).toBeGreaterThan(0.45);
    // Half-way it is half an octave lower.
    expect(amplitudeAt(out, 880 / Math.SQRT2, rate, 0.98 * rate, 1.02 * rate)).toBeGreaterThan(0.4);
  });

  it('keeps its formants where it is told to, and moves them alone', () => {
    const resonance = (frequency: number, centre: number): number => 1 / (1 + ((frequency - centre) / 150) ** 2);
    const vowel = (fundamental: number, centre: number): Float32Array => {
      const samples = new Float32Array(2 * rate);
      for (let h = 1; h * fundamental < 6_000; h++) {
        const level = 0.3 * resonance(h * fundamental, centre);
        for (let i = 0; i < samples.length; i++) samples[i]! += level * Math.sin((2 * Math.PI * h * fundamental * i) / rate + h * h);
      }
      return samples;
    };
    /** Centre of the energy of the partials below 3 kHz. */
    const centreOf = (samples: Float32Array, fundamental: number): number => {
      let [sum, weighed] = [0, 0];
      for (let h = 1; h * fundamental < 3_000; h++) {
        const power = amplitudeAt(samples, h * fundamental, rate, 0.7 * rate, 1.3 * rate) ** 2;
        sum += power;
        weighed += power * h * fundamental;
      }
      return weighed / sum;
    };
    const sound = vowel(110, 1_000);
    const up = 110 * 2 ** (7 / 12);
    const expected = centreOf(vowel(up, 1_000), up);
    const kept = centreOf(played(sound, { pitch: 7, keepFormants: true, method: 'tones' }), up);
    expect(Math.abs(12 * Math.log2(kept / expected))).toBeLessThan(0.6);
    const followed = centreOf(played(sound, { pitch: 7, method: 'tones' }), up);
    expect(12 * Math.log2(followed / expected)).toBeGreaterThan(5);
    const moved = centreOf(played(sound, { formant: 7, method: 'tones' }), 110);
    expect(Math.abs(12 * Math.log2(moved / centreOf(vowel(110, 1_000 * 2 ** (7 / 12)), 110)))).toBeLessThan(1);
  });

  it('is as loud with formants that are moved or kept, however far', () => {
    const power = (samples: Float32Array): number => samples.reduce((sum, each) => sum + each * each, 0) / samples.length;
    const square = Float32Array.from({ length: rate }, (_, i) => (i % 96 < 48 ? 0.5 : -0.5));
    const tone = sine(440, 1, rate, -6);
    for (const sound of [square, tone, noise(rate, 5, -6)])
      for (const pitch of [-36, 0])
        for (const formant of [-24, 12, 24])
          for (const keepFormants of [true, false]) {
            const up = power(played(sound, { length: 1, pitch, formant, keepFormants, method: 'tones' })) / power(sound);
            // It was up to 30 dB louder: weak partials that came under a strong formant.
            expect({ pitch, formant, keepFormants, fine: up < 1.6 }).toEqual({ pitch, formant, keepFormants, fine: true });
            // Nor softer, unless what is strong falls out of its formant.
            if (pitch === 0 && formant > 0 && sound !== tone) expect(up).toBeGreaterThan(0.7);
          }
  });
});

describe('a clip that is stretched', () => {
  it.each([
    [0.25, 0],
    [1, 12],
    [2.5, -5],
    [4, 24],
    [50, 0],
  ])('lasts as long as its stretch (%f) and its speed (%f st) make it', (stretch, speed) => {
    const wanted = treatment({ stretch, speed, length: 0.7, offset: 0.4 });
    expect(treatClip(mono(noise(2 * rate)), wanted).channels[0]).toHaveLength(Math.round(clipDuration(wanted) * rate));
    expect(clipDuration(wanted)).toBeCloseTo((0.7 * stretch) / 2 ** (speed / 12), 9);
  });

  it('is worked on forwards when it is played backwards: both are each other’s mirror', () => {
    const sound = noise(3 * rate, 2, -6);
    const forwards = played(sound, { stretch: 1.6, offset: 0.5, length: 1, method: 'tones' });
    const backwards = played(sound, { stretch: 1.6, offset: 0.5, length: 1, method: 'tones', reversed: true });
    expect(residual(forwards, backwards.slice().reverse())).toBeLessThan(-120);
  });

  it('cut into two is one stretch still: neighbours share it, and the cut is not heard', () => {
    const bench = new ArrangeBench(mono(noise(3 * rate, 4, -6)));
    bench.do('stretchClips', { clips: [bench.clip.id], settings: { stretch: 1.7, pitch: 3, method: 'tones' } });
    const before = bench.render();
    bench.do('splitClips', { clips: [bench.clip.id], time: 1.23456 });
    const [left, right] = bench.clips();
    expect(treatmentKey('a', left!)).toBe(treatmentKey('a', right!));
    expect(residual(before, bench.render())).toBeLessThan(-100);
  });

  it('lets pins put what strikes on moments of the axis', () => {
    const clicks = new Float32Array(3 * rate);
    for (const at of [0.5, 1, 2]) clicks[at * rate] = 0.9;
    for (const reversed of [false, true]) {
      const bench = new ArrangeBench(mono(clicks));
      if (reversed) bench.do('reverseClips', { clips: [bench.clip.id] });
      const pins = reversed
        ? [
            { at: 2, time: 1.7 },
            { at: 1, time: 2.3 },
          ]
        : [
            { at: 1, time: 1.3 },
            { at: 2, time: 3.7 },
          ];
      bench.do('stretchClips', { clips: [bench.clip.id], settings: { method: 'hits' } });
      bench.do('setPins', { clip: bench.clip.id, pins });
      const out = bench.render();
      for (const { at, time } of pins) {
        expect(sourceToAxis(bench.clip, at)).toBeCloseTo(time, 9);
        // Within a millisecond, as loud as it was.
        expect(largest(Math.round((time - 0.001) * rate), Math.round((time + 0.001) * rate), (i) => out[i]!)).toBeGreaterThan(0.8);
      }
      expect(out.length).toBe(Math.round(clipDuration(bench.clip) * rate));
    }
  });

  it('lingers along a curve of stretch: every click where the curve says', () => {
    const clicks = new Float32Array(3 * rate);
    const places = [0.4, 1.1, 1.9, 2.6];
    for (const at of places) clicks[Math.round(at * rate)] = 0.9;
    const wanted = treatment({
      length: 3,
      method: 'hits',
      curves: {
        stretch: [
          { at: 0, value: -1 },
          { at: 3, value: 2 },
        ],
      },
    });
    const out = treatClip(mono(clicks), wanted).channels[0]!;
    for (const at of places) {
      const heard = Math.round(sourceToAxis({ ...wanted, start: 0 }, at) * rate);
      expect(largest(heard - 48, heard + 48, (i) => out[i]!)).toBeGreaterThan(0.8);
    }
  });

  it('follows a curve of a thousand points, and loops', () => {
    const speed = Array.from({ length: 1_000 }, (_, i) => ({ at: i / 500, value: 12 * Math.sin(i) }));
    const stretch = Array.from({ length: 1_000 }, (_, i) => ({ at: i / 500, value: Math.cos(i) }));
    const wild = treatment({ curves: { speed, stretch }, pitch: 5 });
    const out = treatClip(mono(noise(2 * rate)), wild).channels[0]!;
    expect(out).toHaveLength(Math.round(clipDuration(wild) * rate));
    expect(out.every(Number.isFinite)).toBe(true);
    const looped = treatment({ length: 5, loop: { from: 0.5, to: 1, crossfade: 0.05 }, stretch: 2, method: 'texture' });
    const round = treatClip(mono(noise(2 * rate)), looped).channels[0]!;
    expect(round).toHaveLength(10 * rate);
    expect(Math.hypot(...round.subarray(9 * rate, 9 * rate + 1_000))).toBeGreaterThan(1);
  });

  it('too long to be held says so', () => {
    expect(() => treatClip(mono(noise(2 * rate)), treatment({ length: 80, stretch: 200, loop: { from: 0, to: 1, crossfade: 0 } }))).toThrow(
      'minutes is too long to be held',
    );
  });
});
