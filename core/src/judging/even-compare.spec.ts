import { interSampleReach } from '../dsp/inter-sample';
import type { Sound } from '../project/schema';
import { measureLoudness } from '../analysis/loudness/loudness';
import { measureTruePeak } from '../analysis/loudness/true-peak';
import { SoundPlayer } from '../render/live/player';
import { renderSound } from '../render/render-sound';
import { edited, projectWith } from '../testing/project';
import { mono, noise, sine } from '../testing/signals';
import { bypassed, EvenCompare } from './even-compare';

const rate = 48_000;
const { project, context } = projectWith({ 'Ridge wind': mono(noise(6 * rate, 4, -20)) });
const sound = project.sounds[0]!;
const owner = { layer: sound.layers[0]!.id };

/** The sound with a step on its only layer. */
function withStep(effect: string, values: Readonly<Record<string, string | number>>): Sound {
  const steps = [{ effect, enabled: true, mix: 1, parameters: values }];
  return edited(project, 'setChain', { sound: sound.id, owner, name: 'Test', steps }).sounds[0]!;
}

function render(both: EvenCompare, frames: number): Float32Array {
  const output = new Float32Array(frames);
  const right = new Float32Array(1_024);
  for (let at = 0; at < frames;) at += both.render([output.subarray(at, Math.min(frames, at + 480)), right], Math.min(480, frames - at));
  return output;
}

const power = (samples: Float32Array, from: number, to: number): number => {
  let sum = 0;
  for (let i = from; i < to; i++) sum += samples[i]! ** 2;
  return 10 * Math.log10(sum / (to - from));
};

const levelOf = (version: Sound): number =>
  power(renderSound(version, context, { tail: 'fixed length', length: 4 }).channels[0]!, 3.1 * rate, 4 * rate);

const compared = (a: Sound, b: Sound): EvenCompare => new EvenCompare(new SoundPlayer(a, context, 0), new SoundPlayer(b, context, 0), rate);

describe('even compare', () => {
  it.each([-18, 9])('lowers the louder of the two where B is %i dB louder', (gain) => {
    const heardAs = (side: 'A' | 'B'): { level: number; gain: number } => {
      const both = compared(sound, withStep('trim', { gain }));
      both.hear(side);
      render(both, 3 * rate);
      return { level: power(render(both, rate), 4_800, rate), gain: both.gain };
    };
    const [a, b] = [heardAs('A'), heardAs('B')];
    expect(a.gain).toBeCloseTo(-gain, 1);
    expect(Math.abs(a.level - b.level)).toBeLessThan(0.1);
    // As loud as the quieter of the two is by itself, never louder.
    expect(Math.abs(a.level - (levelOf(sound) + Math.min(0, gain)))).toBeLessThan(0.15);
  });

  it('ends within 0.2 LU of each other, whatever differs: a long tail, a bright top, a swell', () => {
    const swell = projectWith({ Swell: mono(noise(5 * rate, 8, -14).map((value, i) => value * Math.exp(-i / 30_000))) });
    const own = { layer: swell.project.sounds[0]!.layers[0]!.id };
    for (const effect of ['reverb', 'filter', 'compressor']) {
      const steps = [{ effect, enabled: true, mix: 1, parameters: {} }];
      const other = edited(swell.project, 'setChain', { sound: swell.project.sounds[0]!.id, owner: own, name: 'Test', steps }).sounds[0]!;
      const players = [swell.project.sounds[0]!, other].map((version) => new SoundPlayer(version, swell.context, 0));
      const both = new EvenCompare(players[0]!, players[1]!, rate);
      render(both, 5 * rate);
      const [plain, treated] = [swell.project.sounds[0]!, other].map((version) => {
        const { channels } = renderSound(version, swell.context, { tail: 'fixed length', length: 5 });
        return measureLoudness({ sampleRate: rate, channels }).integrated;
      });
      expect(Math.abs(treated! + both.gain - plain!)).toBeLessThan(0.2);
    }
  });

  it.each(['A', 'B'] as const)('stays below -1 dBTP on %s, also where a version clips', (side) => {
    const loud = compared(withStep('trim', { gain: 26 }), withStep('trim', { gain: 20 }));
    loud.hear(side);
    const heard = render(loud, 2 * rate);
    expect(measureTruePeak(mono(heard))).toBeLessThan(-1);
    expect(power(heard, rate, 2 * rate)).toBeGreaterThan(-18);
  });

  it('does not leap when a version changes, and finds its level again', () => {
    const quiet = projectWith({ Tone: mono(sine(200, 6, rate, -3)) });
    const tone = quiet.project.sounds[0]!;
    const loud = edited(quiet.project, 'setValues', { sound: tone.id, values: { 'sound/gain': 12 }, label: '' }).sounds[0]!;
    const both = new EvenCompare(new SoundPlayer(loud, quiet.context, 0), new SoundPlayer(loud, quiet.context, 0), rate);
    render(both, rate);
    both.restart();
    const heard = render(both, rate);
    let steepest = 0;
    for (let i = 1; i < heard.length; i++) steepest = Math.max(steepest, Math.abs(heard[i]! - heard[i - 1]!));
    expect(steepest).toBeLessThan(((2 * Math.PI * 200) / rate) * 1.1);
    expect(measureTruePeak(mono(heard))).toBeLessThan(-1);
  });

  it('weighs as the ear does: a low boost counts for less than its energy', () => {
    const low = projectWith({ Boom: mono(sine(40, 3, rate, -12)) });
    const dull = low.project.sounds[0]!;
    const both = new EvenCompare(new SoundPlayer(sound, context, 0), new SoundPlayer(dull, low.context, 0), rate);
    const a = power(render(both, 2 * rate), 4_800, 2 * rate);
    const plain = power(sine(40, 1, rate, -12), 0, rate);
    // The tone needs more gain than equal energy would give it.
    expect(both.gain).toBeGreaterThan(a - plain + 3);
  });

  it('switches without a click, and is the sound itself on A', () => {
    const both = compared(sound, withStep('trim', { gain: -30 }));
    const tone = projectWith({ Tone: mono(sine(300, 4, rate, -6)) });
    const plain = tone.project.sounds[0]!;
    const switched = new EvenCompare(new SoundPlayer(plain, tone.context, 0), new SoundPlayer(plain, tone.context, 0), rate);
    const first = render(switched, rate);
    switched.hear('B');
    const second = render(switched, 4_800);
    let steepest = 0;
    for (let i = 1; i < second.length; i++) steepest = Math.max(steepest, Math.abs(second[i]! - second[i - 1]!));
    expect(steepest).toBeLessThan(0.5 * ((2 * Math.PI * 300) / rate) * 1.05);
    const reference = new Float32Array(rate);
    new SoundPlayer(plain, tone.context, 0).render([reference, new Float32Array(1_024)], 480);
    // It looks so far ahead for peaks.
    expect(first.subarray(interSampleReach, 480)).toEqual(reference.subarray(0, 480 - interSampleReach));
    render(both, 480);
  });

  it('never bursts out at the beginning, however different the first moments are', () => {
    const late = noise(2 * rate, 6, -12).fill(0, 0, 2_000);
    const early = projectWith({ Wind: mono(noise(2 * rate, 4, -12)) });
    const delayed = projectWith({ Wind: mono(late) });
    const both = new EvenCompare(
      new SoundPlayer(early.project.sounds[0]!, early.context, 0),
      new SoundPlayer(delayed.project.sounds[0]!, delayed.context, 0),
      rate,
    );
    both.hear('B');
    const heard = render(both, rate);
    expect(Math.max(...heard.map(Math.abs))).toBeLessThan(0.3);
  });

  it('leaves silence alone', () => {
    const silent = projectWith({ Nothing: mono(new Float32Array(rate)) });
    const quiet = silent.project.sounds[0]!;
    const both = new EvenCompare(new SoundPlayer(sound, context, 0), new SoundPlayer(quiet, silent.context, 0), rate);
    render(both, rate);
    expect(both.gain).toBe(0);
  });
});

describe('bypassed', () => {
  const chained = withStep('trim', { gain: -6 });
  const off = (version: Sound): boolean[] => [...version.layers[0]!.chain, ...version.chain].map((step) => !step.enabled);

  it('switches off a step, a chain, or all of them', () => {
    const [step] = chained.layers[0]!.chain;
    const twice = {
      ...chained,
      chain: [{ ...step!, id: 'step-99' }],
      layers: [{ ...chained.layers[0]!, chain: [step!, { ...step!, id: 'step-98' }] }],
    };
    expect(off(bypassed(twice, 'without this step', owner, step!.id))).toEqual([true, false, false]);
    expect(off(bypassed(twice, 'without this chain', owner, step!.id))).toEqual([true, true, false]);
    expect(off(bypassed(twice, 'without this chain', 'sound', undefined))).toEqual([false, false, true]);
    expect(off(bypassed(twice, 'without all chains', owner, undefined))).toEqual([true, true, true]);
    expect(twice.layers[0]!.chain[0]!.enabled).toBe(true);
  });
});
