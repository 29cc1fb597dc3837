import { maxBlock } from '../dsp/block';
import { largest, noise, sine } from '../testing/signals';
import { changeBands, ChangeListener, ChangeMeter } from './change-meter';

const rate = 48_000;

/** What the meter reads when `input` becomes `output`, heard in blocks. */
function read(input: readonly Float32Array[], output: readonly Float32Array[], latency = 0) {
  const meter = new ChangeMeter(rate, latency, input.length);
  for (let at = 0; at < input[0]!.length; at += 480) {
    const part = (channels: readonly Float32Array[]) => ({
      channels: channels.map((samples) => samples.subarray(at, at + 480)),
      frames: 480,
    });
    meter.hearBefore(part(input));
    meter.hearAfter(part(output));
  }
  return meter.read();
}

const scaled = (samples: Float32Array, gain: number) => samples.map((sample) => sample * gain);

describe('change meter', () => {
  const source = noise(rate, 2, -20);

  it('finds no change where only the level changes, and tells the level', () => {
    const reading = read([source], [scaled(source, 0.5)])!;
    expect(reading.residual).toBeLessThan(-120);
    expect(reading.audible).toBe(false);
    expect(reading.gain).toBeCloseTo(-6.02, 2);
  });

  it('reads silence as nothing', () => {
    expect(read([new Float32Array(rate)], [new Float32Array(rate)])).toBeUndefined();
  });

  it('waits for what comes late', () => {
    const late = new Float32Array(rate);
    late.set(source.subarray(0, rate - 240), 240);
    expect(read([source], [late], 240)!.residual).toBeLessThan(-120);
    expect(read([source], [late], 0)!.residual).toBeGreaterThan(0);
  });

  it.each([-10, -30, -60])('reads unrelated noise added %i dB below the sound as that much change', (level) => {
    const added = noise(rate, 9, -20 + level);
    const reading = read([source], [source.map((sample, i) => sample + added[i]!)])!;
    // Brought to the same level, the difference is 2 (1 - r) with r the correlation of both.
    const correlation = 1 / Math.sqrt(1 + 10 ** (level / 10));
    expect(Math.abs(reading.residual - 10 * Math.log10(2 * (1 - correlation)))).toBeLessThan(0.7);
    expect(reading.audible).toBe(level > -40);
  });

  it('tells in which band the change lies', () => {
    const tone = sine(1_000, 1, rate, -20);
    const added = sine(4_000, 1, rate, -50);
    const quiet = noise(rate, 5, -60);
    const input = tone.map((sample, i) => sample + quiet[i]!);
    const reading = read([input], [input.map((sample, i) => sample + added[i]!)])!;
    const strongest = reading.bands.indexOf(Math.max(...reading.bands));
    expect(Math.abs(changeBands[strongest]! / 4_000 - 1)).toBeLessThan(0.02);
    expect(reading.audible).toBe(true);
  });

  it('sees what only the sides of the image do', () => {
    const other = noise(rate, 4, -20);
    const swapped = read([source, other], [other, source])!;
    expect(swapped.residual).toBeGreaterThan(0);
    expect(swapped.audible).toBe(true);
  });
});

describe('hearing the change', () => {
  it('leaves silence where a step only turns the level, once the level is matched', () => {
    const listener = new ChangeListener(rate, 0, 2);
    const input = noise(2 * rate, 3, -12);
    const left = new Float32Array(maxBlock);
    const right = new Float32Array(maxBlock);
    let loudest = 0;
    for (let at = 0; at < input.length; at += 960) {
      const part = input.subarray(at, at + 960);
      listener.hearBefore({ channels: [part, part], frames: 960 });
      const half = scaled(part, 0.5);
      listener.hearAfter({ channels: [half, half], frames: 960 });
      listener.replace([left, right], 960);
      if (at > rate) for (let i = 0; i < 960; i++) loudest = Math.max(loudest, Math.abs(left[i]!));
    }
    expect(loudest).toBeLessThan(1e-4);
    // A step that is asleep is silence, not its last block over and over.
    listener.replace([left, right], 960);
    expect(left.subarray(0, 960).every((sample) => sample === 0)).toBe(true);
  });

  it('gives exactly what was added', () => {
    const listener = new ChangeListener(rate, 100, 2);
    const input = sine(500, 0.2, rate, -12);
    const added = sine(3_000, 0.2, rate, -72);
    const late = new Float32Array(input.length);
    late.set(input.subarray(0, input.length - 100), 100);
    const output = late.map((sample, i) => sample + added[i]!);
    const [left, right] = [new Float32Array(maxBlock), new Float32Array(maxBlock)];
    for (let at = 0; at + 480 <= input.length; at += 480) {
      const before = input.slice(at, at + 480);
      const after = output.slice(at, at + 480);
      listener.hearBefore({ channels: [before, before], frames: 480 });
      listener.hearAfter({ channels: [after, after], frames: 480 });
      listener.replace([left, right], 480);
      if (at < 4_800) continue;
      expect(largest(0, 480, (i) => left[i]! - added[at + i]!)).toBeLessThan(3e-5);
    }
  });
});
