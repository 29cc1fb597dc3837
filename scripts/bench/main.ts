/** Speeds on this machine, in one run: how many times faster than real time. */
import { readFileSync } from 'node:fs';
import { cpus } from 'node:os';
import type { Audio, AutomationLane, Branch, EffectStep, ParameterValue } from '../../core/src/index';
import {
  applyChain,
  ConductMixer,
  effects,
  changeSpeed,
  convertSampleRate,
  createRandom,
  effectCatalogue,
  gainParameter,
  lfoPoints,
  measureLoudness,
  measureOverview,
  measureTruePeak,
  playPatch,
  RealFft,
  readWav,
  renderContext,
  renderSound,
  unpackArchive,
  siblingSound,
  SlowPlayer,
  TreatmentCache,
  writeWav,
} from '../../core/src/index';

const rate = 48_000;
const random = createRandom(1);
const noise = (seconds: number): Float32Array => Float32Array.from({ length: seconds * rate }, () => random.next() - 0.5);

/** Seconds that the best of a few runs takes. */
function fastest(work: () => void, runs = 4): number {
  let best = Infinity;
  for (let i = 0; i < runs; i++) {
    const start = performance.now();
    work();
    best = Math.min(best, performance.now() - start);
  }
  return best / 1_000;
}

const rows: [string, string, string][] = [];
const realTime = (what: string, seconds: number, work: () => void): void => {
  const time = fastest(work);
  rows.push([what, `${(seconds / time).toFixed(0)} x real time`, `${(time * 1_000).toFixed(0)} ms for ${seconds} s`]);
};

const step = (effect: string, parameters: Record<string, ParameterValue>): EffectStep => ({
  id: 'a',
  effect,
  enabled: true,
  mix: 1,
  parameters,
});
const mono: Audio = { sampleRate: rate, channels: [noise(30)] };
const shortMono: Audio = { sampleRate: rate, channels: [noise(10)] };
const stereo: Audio = { sampleRate: rate, channels: [noise(30), noise(30)] };
/** Notes on a patch of one part after the other, all at once, for some seconds. */
const notesOn = (
  what: string,
  seconds: number,
  count: number,
  ...kinds: readonly (readonly [string, Record<string, ParameterValue>])[]
): void => {
  const parts = kinds.map(([kind, parameters], p) => ({ id: `part-${p}`, kind, name: '', enabled: true, parameters, from: [] }));
  const notes = Array.from({ length: count }, (_, n) => ({ start: 0, length: seconds, pitch: 40 + n, strength: 1 }));
  realTime(what, seconds, () => void playPatch({ patch: { parameters: { voices: 32 }, parts, curves: [] }, notes, length: seconds }));
};
notesOn('Patch: one saw', 10, 1, ['oscillator', { shape: 'saw' }]);
notesOn('Patch: one saw through a ladder', 10, 1, ['oscillator', { shape: 'saw', filter: 'ladder' }]);
notesOn('Patch: one body of 20 modes', 10, 1, ['body', { ring: 30 }]);
notesOn(
  'Patch: 32 voices of four parts',
  4,
  32,
  ['oscillator', { shape: 'saw' }],
  ['oscillator', {}],
  ['oscillator', { shape: 'pulse', filter: 'low-pass' }],
  ['noise', { apart: 0 }],
);
/** A game's voices, all at once, in blocks of 128. */
for (const [kind, channels, ratio, highCut, room, share] of [
  ['mono', mono.channels, 1, 20_000, 0, 0],
  ['mono, in the room of a bus', mono.channels, 1, 20_000, 0.3, 0.3],
  ['mono, in it at distances of their own', mono.channels, 1, 20_000, 0.3, 0],
  ['mono, at another pitch', mono.channels, 1.37, 20_000, 0, 0],
  ['stereo, at another pitch', stereo.channels, 1.37, 20_000, 0, 0],
  ['stereo, at another pitch, filtered', stereo.channels, 1.37, 3_000, 0, 0],
] as const)
  realTime(`Game: 200 voices, ${kind}`, 4, () => {
    const mixer = new ConductMixer(rate);
    mixer.setAsset('asset', channels);
    const around = { decay: 2, high: 0.5, size: 1, share };
    if (room > 0) mixer.setBuses([{ id: 'ice', name: 'Ice', gain: 0, muted: false, lowCut: 80, highCut: 20_000, room: around }]);
    const heard = { behaviour: 'b', asset: 'asset', bus: 'ice', room, fadeIn: 0, ratio, highCut, gain: 0.1, pan: 0.3 };
    mixer.take(Array.from({ length: 200 }, (_, voice) => ({ do: 'play', frame: 0, voice, ...heard })));
    const [left, right] = [new Float32Array(128), new Float32Array(128)];
    for (let block = 0; block < (4 * rate) / 128; block++) mixer.render(left, right, 128);
  });
const fiveBands = Object.fromEntries(
  [2, 3, 4, 5, 6].flatMap((band) => [
    [`band${band}On`, true],
    [`band${band}Kind`, 'bell'],
    [`band${band}Gain`, 4],
  ]),
);

const emptyBranch = { name: '', gain: 0, pan: 0, delay: 0, muted: false, soloed: false, chain: [] };

realTime('EQ, five bells, mono', 30, () => applyChain(mono, [step('eq', fiveBands)], { tail: false }));
realTime('EQ, five bells, stereo', 30, () => applyChain(stereo, [step('eq', fiveBands)], { tail: false }));
realTime('Compressor, mono', 30, () => applyChain(mono, [step('compressor', { threshold: -30 })], { tail: false }));
for (const { id, label, host } of effects) {
  if (id === 'eq' || id === 'compressor') continue;
  // The first preset does what the effect is for; defaults of an EQ would do nothing.
  const [preset] = effects.find((effect) => effect.id === id)!.presets;
  const branches = Array.from({ length: host?.first ?? 0 }, (_, b): Branch => ({ ...emptyBranch, id: `branch-${b}` }));
  const chain = [{ ...step(id, { ...preset?.values }), ...(host && { branches }) }];
  realTime(`${label}, “${preset?.name ?? 'as it is'}”, mono`, 10, () => applyChain(shortMono, chain, { tail: false }));
}
/** The same where there is more of it: eight channels, and twice the rate. */
const eight: Audio = { sampleRate: rate, channels: Array.from({ length: 8 }, () => noise(10)) };
const twiceTheRate: Audio = { sampleRate: 2 * rate, channels: [noise(20)] };
for (const { id, label, presets } of effects) {
  if (!['eq', 'compressor', 'limiter', 'multiband', 'drive', 'delay', 'reverb', 'convolution'].includes(id)) continue;
  const chain = [step(id, id === 'eq' ? fiveBands : { ...presets[0]?.values })];
  realTime(`${label}, 8 channels`, 10, () => applyChain(eight, chain, { tail: false }));
  realTime(`${label}, mono at 96 kHz`, 10, () => applyChain(twiceTheRate, chain, { tail: false }));
}
realTime('Compressor with look-ahead, stereo', 30, () =>
  applyChain(stereo, [step('compressor', { threshold: -30, lookahead: 0.005 })], { tail: false }),
);
realTime('Varispeed −3 st, mono', 30, () => changeSpeed(mono, Math.pow(2, -3 / 12)));
realTime('Varispeed +5 st, mono', 30, () => changeSpeed(mono, Math.pow(2, 5 / 12)));
realTime('44.1 → 48 kHz, mono', 30, () => convertSampleRate({ ...mono, sampleRate: 44_100 }, rate));
realTime('Loudness, stereo', 30, () => measureLoudness(stereo));
realTime('True peak, stereo', 30, () => measureTruePeak(stereo));
realTime('Waveform overview, stereo', 30, () => measureOverview(stereo));
const wav = writeWav(stereo, { encoding: '24' });
realTime('Reading 24-bit WAV, stereo', 30, () => readWav(wav));
realTime('Writing 24-bit WAV with dither, stereo', 30, () => writeWav(stereo, { encoding: '24', dither: createRandom(1) }));

for (const size of [512, 2_048, 8_192, 65_536]) {
  const fft = new RealFft(size);
  const input = noise(2).subarray(0, size);
  const re = new Float64Array(fft.bins);
  const im = new Float64Array(fft.bins);
  const back = new Float64Array(size);
  const repeats = Math.ceil(400_000 / size);
  const time = fastest(() => {
    for (let i = 0; i < repeats; i++) {
      fft.forward(input, re, im);
      fft.inverse(re, im, back);
    }
  });
  rows.push([`FFT forward and inverse, ${size}`, `${((time / repeats) * 1e6).toFixed(0)} µs`, '']);
}

const archive = await unpackArchive(new Uint8Array(readFileSync('dist/halda-station.choir')), effectCatalogue);
const library = new Map([...archive.audio].map(([hash, bytes]) => [hash, readWav(bytes).audio]));
const context = renderContext(archive.project, library);
for (const sound of archive.project.sounds) {
  const seconds = Math.round((renderSound(sound, context, { tail: 'ring out' }).channels[0]!.length / rate) * 100) / 100;
  realTime(`${sound.name}, everything anew, one core`, seconds, () => renderSound(sound, context, { tail: 'ring out' }));
  const cache = new TreatmentCache();
  realTime(`${sound.name}, clips already treated`, seconds, () => renderSound(sound, context, { tail: 'ring out', cache }));
}
const slab = archive.project.sounds[0]!;
const swinging = lfoPoints(
  gainParameter,
  { from: 0, to: 8 },
  { shape: 'sine', startRate: 2, endRate: 2, low: -12, high: 0, phase: 0, seed: 1 },
);
/** A lane that swings twice a second around what the property is. */
const lane = (address: string): AutomationLane => ({ id: address, address, enabled: true, stepped: false, trim: 0, points: swinging });
const slabSeconds = Math.round((renderSound(slab, context, { tail: 'ring out' }).channels[0]!.length / rate) * 100) / 100;
const eqGains = slab.layers.flatMap((layer) =>
  layer.chain.flatMap((each) =>
    Object.keys(each.parameters)
      .filter((key) => /Gain$/.test(key))
      .map((key) => `layer/${layer.id}/chain/${each.id}/${key}`),
  ),
);
const automated: [string, AutomationLane[]][] = [
  ['every gain automated', slab.layers.map((layer) => lane(`layer/${layer.id}/gain`))],
  [`${eqGains.length} EQ gains automated`, eqGains.map(lane)],
];
const treated = new TreatmentCache();
for (const [what, automation] of automated)
  realTime(`${slab.name}, clips already treated, ${what}`, slabSeconds, () =>
    renderSound({ ...slab, automation }, context, { tail: 'ring out', cache: treated }),
  );
realTime('Slowing down to a quarter, stereo', 30, () => {
  let position = 0;
  const source = {
    position: 0,
    loop: undefined,
    channels: 2,
    seek: () => undefined,
    render: ([left, right]: readonly Float32Array[], frames: number): number => {
      left!.set(stereo.channels[0]!.subarray(position, position + frames));
      right!.set(stereo.channels[1]!.subarray(position, position + frames));
      position += frames;
      source.position = position;
      return frames;
    },
  };
  const slow = new SlowPlayer(source, 0.25);
  const [left, right] = [new Float32Array(480), new Float32Array(480)];
  for (let done = 0; done < 30 * rate; done += 480) slow.render([left, right], 480);
});
const step16 = archive.project.sounds[1]!;
const family = fastest(() => {
  for (let i = 0; i < 16; i++) renderSound(siblingSound(step16, i, effectCatalogue), context, { tail: 'ring out' });
});
rows.push(['Family of 16 snow steps, one core', `${(family * 1_000).toFixed(0)} ms`, '']);

console.log(`\n${cpus()[0]?.model ?? 'unknown processor'}, ${cpus().length} cores, Node ${process.version}\n`);
const widths = [0, 1].map((column) => Math.max(...rows.map((row) => row[column]!.length)));
for (const [what, speed, detail] of rows) console.log(`| ${what.padEnd(widths[0]!)} | ${speed.padStart(widths[1]!)} | ${detail} |`);
