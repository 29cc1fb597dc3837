/** Part of `npm run bench`: what ours and the reference library do to the same signals, and how quickly. */
import type { StretchMethod } from '../../core/src/index';
import { createRandom, findAttacks, retune, stretchAudio, TimeMap } from '../../core/src/index';
import { referenceStretch } from './reference-stretch';
import { clickAt, crest, formantCentre, levelFlutter, phaseBetween, rate, spuriousLevel, strongest, toneNear } from './stretch-measures';

const reference = await referenceStretch();
type Stretcher = (channels: readonly Float32Array[], stretch: number, method: StretchMethod) => readonly Float32Array[];
const ours: Stretcher = (channels, stretch, method) => {
  const audio = { sampleRate: rate, channels };
  const attacks = method === 'hits' ? findAttacks(audio) : [];
  const frames = channels[0]!.length;
  const map = new TimeMap(Float64Array.of(0, frames), Float64Array.of(0, frames * stretch));
  return stretchAudio(audio, map, { from: 0, to: Math.round(frames * stretch) }, { method, attacks }).channels;
};
const theirs: Stretcher = (channels, stretch) => reference(channels, { stretch });

const seconds = 3;
const samples = (of: (t: number) => number, length = seconds): Float32Array =>
  Float32Array.from({ length: length * rate }, (_, i) => of(i / rate));
const sine = (frequency: number, length = seconds): Float32Array => samples((t) => 0.5 * Math.sin(2 * Math.PI * frequency * t), length);
const chordTones = [220, 277.18, 329.63, 440];
const chord = samples((t) => chordTones.reduce((sum, f) => sum + 0.2 * Math.sin(2 * Math.PI * f * t + f), 0));
const clicks = new Float32Array(seconds * rate);
for (let i = 12_000; i < clicks.length - 6_000; i += 12_000) clicks[i] = 0.9;
const pinkNoise = (length: number): Float32Array => {
  const random = createRandom(7);
  const rows = new Float64Array(16);
  return Float32Array.from({ length: length * rate }, (_, n) => {
    for (let row = 0; row < rows.length; row++) if (n % 2 ** row === 0) rows[row] = random.next() - 0.5;
    return rows.reduce((sum, value) => sum + value, 0) / 8;
  });
};
const pink = pinkNoise(6);
const noiseRandom = createRandom(3);
const drum = samples((t) => {
  const u = t - 0.5;
  if (u < 0) return 0;
  return (
    0.6 * Math.exp(-u * 12) * Math.sin(2 * Math.PI * (60 * u + 3 * (1 - Math.exp(-u * 40)))) +
    0.5 * Math.exp(-u * 60) * (2 * noiseRandom.next() - 1)
  );
});
const glide = samples((t) => 0.5 * Math.sin(2 * Math.PI * 200 * ((Math.pow(2, t) - 1) / Math.LN2)));

const rows: [string, number, number, string][] = [];
const compare = (what: string, unit: string, of: (stretcher: Stretcher) => number): void =>
  void rows.push([what, of(ours), of(theirs), unit]);
const middle = (channel: Float32Array): number => Math.round(channel.length / 3);

for (const stretch of (process.argv[2] ?? '0.5,2,4').split(',').map(Number)) {
  for (const f of [110, 440, 3_000]) {
    compare(`sine ${f} Hz, ${stretch}x: frequency error`, 'cents', (run) => {
      const out = run([sine(f)], stretch, 'tones')[0]!;
      return Math.abs(1_200 * Math.log2(toneNear(out, f, middle(out), 16_384).frequency / f));
    });
    compare(`sine ${f} Hz, ${stretch}x: spurious`, 'dB', (run) => {
      const out = run([sine(f)], stretch, 'tones')[0]!;
      return spuriousLevel(out, [f], Math.round(out.length / 6), 32_768);
    });
  }
  compare(`chord, ${stretch}x: spurious`, 'dB', (run) => {
    const out = run([chord], stretch, 'tones')[0]!;
    return spuriousLevel(out, chordTones, Math.round(out.length / 6), 32_768);
  });
  compare(`clicks, ${stretch}x: worst place`, 'ms', (run) => {
    const out = run([clicks], stretch, 'hits')[0]!;
    return Math.max(...places(stretch).map((at) => Math.abs(clickAt(out, at).late) * 1_000));
  });
  compare(`clicks, ${stretch}x: pre-echo`, 'dB', (run) => {
    const out = run([clicks], stretch, 'hits')[0]!;
    return Math.max(...places(stretch).map((at) => clickAt(out, at).before));
  });
  compare(`sine 440, ${stretch}x: flutter`, 'dB', (run) => {
    const out = run([sine(440)], stretch, 'tones')[0]!;
    return levelFlutter(out, 12_000, out.length - 12_000);
  });
  compare(`pink, ${stretch}x: flutter over the original's`, 'dB', (run) => {
    const out = run([pink], stretch, 'texture')[0]!;
    return levelFlutter(out, 12_000, out.length - 12_000) - levelFlutter(pink, 12_000, pink.length - 12_000);
  });
  compare(`drum, ${stretch}x: loss of crest`, 'dB', (run) => Math.abs(crest(run([drum], stretch, 'hits')[0]!) - crest(drum)));
  compare(`panned tone, ${stretch}x: phase between channels`, 'degrees', (run) => {
    const left = samples((t) => 0.5 * Math.sin(2 * Math.PI * 500 * t));
    const right = samples((t) => 0.2 * Math.sin(2 * Math.PI * 500 * t - Math.PI / 3));
    const [a, b] = run([left, right], stretch, 'tones');
    return Math.abs(phaseBetween(a!, b!, 500, middle(a!)) - 60);
  });
  compare(`glide, ${stretch}x: tracking`, 'cents', (run) => {
    const out = run([glide], stretch, 'tones')[0]!;
    let worst = 0;
    for (let t = 0.5; t < 2.4; t += 0.1) {
      const at = Math.round(t * stretch * rate);
      const expected = 200 * Math.pow(2, t);
      worst = Math.max(worst, Math.abs(1_200 * Math.log2(strongest(out, at - 1_024, 2_048) / expected)));
    }
    return worst;
  });
}

const resonance = (frequency: number): number => 1 / (1 + ((frequency - 1_000) / 130) ** 2);
const vowel = (fundamental: number): Float32Array =>
  samples((t) => {
    let sum = 0;
    for (let partial = 1; partial * fundamental < 5_000; partial++)
      sum += 0.2 * resonance(partial * fundamental) * Math.sin(2 * Math.PI * partial * fundamental * t + partial ** 2);
    return sum;
  }, 2);
const up = 110 * 2 ** (7 / 12);
const sound = vowel(110);
const expectedCentre = formantCentre(vowel(up), 300, 3_000, up, 24_000, 80_000);
const awry = (shifted: Float32Array): number =>
  Math.abs(12 * Math.log2(formantCentre(shifted, 300, 3_000, up, 24_000, 80_000) / expectedCentre));
rows.push([
  'vowel up 7 st, formants kept: its centre',
  awry(
    retune({ sampleRate: rate, channels: [sound] }, TimeMap.even(1), sound.length, {
      method: 'tones',
      pitch: 7,
      formant: () => 0,
      fundamental: 110,
    }).channels[0]!,
  ),
  awry(reference([sound], { stretch: 1, semitones: 7, keepFormants: true })[0]!),
  'st off',
]);

function places(stretch: number): number[] {
  const all: number[] = [];
  for (let i = 12_000; i < clicks.length - 6_000; i += 12_000) all.push(Math.round(i * stretch));
  return all;
}

console.log('What is done to known signals: ours, the reference library, and where that is better');
for (const [what, mine, other, unit] of rows)
  console.log(
    `${what.padEnd(48)} ${mine.toFixed(3).padStart(10)} ${other.toFixed(3).padStart(10)} ${unit} ${Math.abs(mine) <= Math.abs(other) || (unit === 'dB' && mine <= other) ? '' : '*'}`,
  );

const pair = [pinkNoise(10), pinkNoise(10)];
const speed = (what: string, work: () => void): void => {
  let best = Infinity;
  for (let i = 0; i < 3; i++) {
    const start = performance.now();
    work();
    best = Math.min(best, performance.now() - start);
  }
  console.log(`${what.padEnd(48)} ${(20 / (best / 1_000)).toFixed(0)} x real time of what comes out`);
};
for (const method of ['tones', 'hits', 'texture', 'vast'] as const) speed(`Stereo, twice as long, ${method}`, () => ours(pair, 2, method));
speed('Stereo, twice as long, an octave down', () =>
  retune({ sampleRate: rate, channels: pair }, TimeMap.even(2), 20 * rate, { method: 'tones', pitch: -12 }),
);
speed('Stereo, twice as long, formants kept', () =>
  retune({ sampleRate: rate, channels: pair }, TimeMap.even(2), 20 * rate, { method: 'tones', pitch: 5, formant: () => 0 }),
);
speed('Stereo, twice as long, the reference library', () => theirs(pair, 2, 'tones'));
