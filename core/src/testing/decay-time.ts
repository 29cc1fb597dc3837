import { kaiser, sinc } from '../dsp/kaiser';

const rate = 48_000;

/** Decay time to -60 dB of a response in an octave, by backward integration (Schroeder 1965), from the slope between -5 and -35 dB. */
export function decayTime(responses: readonly Float32Array[], frequency: number): number {
  const energies = responses.map((response) => energyBehind(response, frequency));
  const energy = energies[0]!.map((_, i) => energies.reduce((sum, each) => sum + each[i]!, 0));
  const fallen = (level: number): number => {
    const threshold = energy[0]! * 10 ** (level / 10);
    let at = 0;
    while (energy[at]! > threshold) at++;
    return at / rate;
  };
  return (fallen(-35) - fallen(-5)) * 2;
}

/** What is left of the energy of an octave from every frame on: a windowed sinc, of which nothing longer reaches in from outside. */
function energyBehind(response: Float32Array, frequency: number): Float64Array {
  const [low, high] = [(Math.SQRT1_2 * 2 * frequency) / rate, (Math.SQRT2 * 2 * frequency) / rate];
  const reach = Math.round((8.5 * rate) / frequency);
  const taps = Float64Array.from({ length: 2 * reach + 1 }, (_, i) => {
    const x = i - reach;
    return (high * sinc(high * x) - low * sinc(low * x)) * kaiser(x / (reach + 1), 8);
  });
  // A few samples of a period tell its energy.
  const every = Math.max(1, Math.floor(rate / frequency / 6));
  const energy = new Float64Array(response.length + 1);
  for (let i = response.length - 1; i >= 0; i--) {
    let sum = 0;
    if (i % every === 0) for (let k = 0; k < taps.length && k <= i; k++) sum += taps[k]! * response[i - k]!;
    energy[i] = energy[i + 1]! + sum ** 2;
  }
  return energy;
}
