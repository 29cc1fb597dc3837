const rate = 48_000;

/** Level of a sine in a recording around a moment, in dB. */
export function toneLevel(samples: Float32Array, frequency: number, time: number): number {
  const from = Math.round((time - 0.1) * rate);
  const count = 0.2 * rate;
  let [re, im] = [0, 0];
  for (let i = 0; i < count; i++) {
    const window = 1 - Math.cos((2 * Math.PI * i) / count);
    re += samples[from + i]! * window * Math.cos((2 * Math.PI * frequency * i) / rate);
    im += samples[from + i]! * window * Math.sin((2 * Math.PI * frequency * i) / rate);
  }
  return 20 * Math.log10((2 * Math.hypot(re, im)) / count);
}

/** RMS of what differs between two recordings in a stretch, against the RMS of the first, in dB. */
export function residual(expected: Float32Array, actual: Float32Array, from: number, to: number): number {
  let [difference, power] = [0, 0];
  for (let i = from; i < to; i++) {
    difference += (actual[i]! - expected[i]!) ** 2;
    power += expected[i]! ** 2;
  }
  return 10 * Math.log10(difference / power);
}

/** Level of 20 ms around a moment, in dB. */
export function levelAt(samples: Float32Array, time: number): number {
  let sum = 0;
  const from = Math.round(time * rate) - 480;
  for (let i = from; i < from + 960; i++) sum += samples[i]! ** 2;
  return 10 * Math.log10(sum / 960);
}
