import type { Audio } from '../../audio/audio';
import { edited, projectWith } from '../../testing/project';
import { amplitudeAt, mono, noise, sine } from '../../testing/signals';
import { SoundPlayer } from './player';
import { SlowPlayer } from './slow-player';

const rate = 48_000;

function slowed(source: Audio, speed: number, from = 0) {
  const { project, context } = projectWith({ source });
  return { player: new SlowPlayer(new SoundPlayer(project.sounds[0]!, context, from), speed), project, context };
}

function heard(player: SlowPlayer, frames: number): Float32Array {
  const output = new Float32Array(frames);
  const left = new Float32Array(480);
  const right = new Float32Array(480);
  for (let at = 0; at < frames; at += 480) {
    player.render([left, right], 480);
    output.set(left.subarray(0, Math.min(480, frames - at)), at);
  }
  return output;
}

/** Frequency of a steady tone: the phase that it gains between two stretches, from a first guess that is right within 20 Hz. */
function frequencyOf(samples: Float32Array, guess: number, from: number): number {
  const phase = (start: number): number => {
    let [re, im] = [0, 0];
    for (let i = 0; i < 4_800; i++) {
      const window = 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / 4_800);
      const angle = (2 * Math.PI * guess * (start + i)) / rate;
      re += window * samples[start + i]! * Math.cos(angle);
      im -= window * samples[start + i]! * Math.sin(angle);
    }
    return Math.atan2(im, re);
  };
  const apart = 1_200;
  let gained = phase(from + apart) - phase(from);
  gained -= 2 * Math.PI * Math.round(gained / (2 * Math.PI));
  return guess + (gained * rate) / (2 * Math.PI * apart);
}

describe('playing slowly', () => {
  it.each([0.5, 0.25])('keeps the pitch and the level of a tone at speed %p', (speed) => {
    for (const frequency of [110, 440, 3_000]) {
      const { player } = slowed(mono(sine(frequency, 3, rate, -6)), speed);
      const samples = heard(player, 3 * rate);
      for (const from of [20_000, 60_000, 100_000]) {
        const cents = 1_200 * Math.log2(frequencyOf(samples, frequency, from) / frequency);
        expect(Math.abs(cents)).toBeLessThan(1);
        const level = 20 * Math.log10(amplitudeAt(samples, frequency, rate, from, from + 4_800)) + 6;
        expect(Math.abs(level)).toBeLessThan(0.5);
      }
    }
  });

  it.each([0.5, 0.25])('has every moment where the slow picture has it, at speed %p', (speed) => {
    const samples = new Float32Array(2 * rate);
    const bursts = [12_000, 40_000, 71_000];
    for (const at of bursts) samples.set(noise(240, at), at);
    const output = heard(slowed(mono(samples), speed).player, Math.round((1.7 * rate) / speed));
    for (const at of bursts) {
      const wanted = at / speed;
      // The middle of what is heard around the burst's time.
      let [sum, moment] = [0, 0];
      for (let i = Math.round(wanted - 9_000); i < wanted + 9_000; i++) {
        sum += output[i]! ** 2;
        moment += i * output[i]! ** 2;
      }
      expect(sum).toBeGreaterThan(1);
      // Within 40 ms: a frame of a 25 fps picture at half speed lasts 80 ms.
      expect(Math.abs(moment / sum - wanted - 120 / speed)).toBeLessThan(0.04 * rate);
    }
  });

  it.each([0.5, 0.25])('lets every attack be heard once, when its time has come and as loud as it is, at speed %p', (speed) => {
    const strikes = [6_000, 17_111, 30_000, 34_000, 61_234];
    const samples = noise(2 * rate, 5, -60);
    for (const at of strikes)
      for (let i = 0; i < 4_000; i++) samples[at + i]! += 0.7 * Math.exp(-i / 600) * Math.sin((2 * Math.PI * 900 * i) / rate + 1);
    const output = heard(slowed(mono(samples), speed).player, Math.round((1.6 * rate) / speed));
    // Attacks of 20 dB and more: the largest sample of 2 ms against that of the 10 ms before.
    const found: number[] = [];
    const most = (from: number, to: number): number =>
      output.subarray(Math.max(0, from), to).reduce((a, x) => Math.max(a, Math.abs(x)), 1e-4);
    for (let at = 0; at < output.length; at += 24)
      if (most(at, at + 96) > 10 * most(at - 480, at) && at - (found.at(-1) ?? -9_999) > 480) found.push(at);
    expect(found).toHaveLength(strikes.length);
    strikes.forEach((at, n) => {
      expect(Math.abs(found[n]! - at / speed)).toBeLessThan(0.004 * rate);
      const loudest = samples.subarray(at, at + 240).reduce((a, x) => Math.max(a, Math.abs(x)), 0);
      expect(20 * Math.log10(most(found[n]!, found[n]! + 480) / loudest)).toBeCloseTo(0, 0);
    });
  });

  it('keeps up with the slow picture through a rattle too dense to be kept apart', () => {
    const samples = noise(3 * rate, 5, -70);
    for (let at = 4_800; at < 2 * rate; at += 900) noise(60, at, -6).forEach((value, i) => (samples[at + i]! += value * Math.exp(-i / 20)));
    const output = heard(slowed(mono(samples), 0.25).player, 10 * rate);
    const energy = (from: number, to: number): number => output.subarray(from, to).reduce((sum, x) => sum + x * x, 0);
    // It lasts from 0.1 to 2 s, so until 8 s of the slow picture.
    expect(energy(8.3 * rate, 10 * rate)).toBeLessThan(1e-3 * energy(0, 10 * rate));
    for (let second = 1; second < 8; second++)
      expect(energy(second * rate, (second + 1) * rate)).toBeGreaterThan(0.05 * energy(0, 10 * rate));
  });

  it('knows where on the time axis it is, across jumps and loops', () => {
    const { player } = slowed(mono(noise(rate)), 0.25, 4_800);
    expect(player.position).toBe(4_800);
    heard(player, 4_800);
    expect(player.position).toBeCloseTo(4_800 + 1_200, 6);
    player.seek(24_000);
    expect(player.position).toBe(24_000);
    player.loop = { from: 12_000, to: 26_400 };
    const seen: number[] = [];
    for (let n = 0; n < 400; n++) {
      heard(player, 480);
      seen.push(player.position);
    }
    expect(Math.max(...seen)).toBeLessThanOrEqual(26_401);
    expect(Math.min(...seen)).toBeGreaterThanOrEqual(12_000 - 1);
    // It goes on by a quarter of what is heard, except where the loop returns.
    const steps = seen.slice(1).map((position, n) => position - seen[n]!);
    expect(steps.filter((step) => Math.abs(step - 120) > 1).length).toBeLessThanOrEqual(4);
    expect(steps.some((step) => step < 0)).toBe(true);
  });

  it('hears edits while it plays', () => {
    const { project, context } = projectWith({ source: mono(sine(440, 3, rate, -6)) });
    const inner = new SoundPlayer(project.sounds[0]!, context, 0);
    const player = new SlowPlayer(inner, 0.5);
    const before = heard(player, 24_000);
    const sound = project.sounds[0]!;
    const quieter = edited(project, 'setValues', { sound: sound.id, values: { 'sound/gain': -20 }, label: 'Turn' });
    inner.setSound(quieter.sounds[0]!, context);
    const after = heard(player, 48_000);
    const fall = 20 * Math.log10(amplitudeAt(after, 440, rate, 30_000, 40_000) / amplitudeAt(before, 440, rate, 10_000, 20_000));
    expect(Math.abs(fall + 20)).toBeLessThan(0.5);
  });
});
