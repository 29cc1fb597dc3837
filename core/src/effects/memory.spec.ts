import { getKernels } from '../dsp/compiled/kernels';
import { runEffect } from '../testing/run-effect';
import { firstDifference, noise } from '../testing/signals';
import { effectsById } from '.';

/** Those that keep something in the kernels' memory, with settings that bring it out. */
const kept: Readonly<Record<string, Readonly<Record<string, number | string | boolean>>>> = {
  eq: { band2On: true, band2Gain: 6, band4On: true, band4Gain: -6 },
  'graphic-eq': {},
  compressor: { threshold: -30 },
  limiter: {},
  clipper: {},
  drive: { drive: 12, curve: 'warm' },
  'harmonic-builder': {},
  delay: { time: 0.01, feedback: 0.6 },
  reverb: {},
  shimmer: {},
  'pitch-shifter': {},
};

/** Lets the memory of the kernels get another buffer, as it does when an effect is added beside others. */
function grow(): void {
  const kernels = getKernels();
  if (!kernels) throw new Error('There are no kernels.');
  const { buffer } = kernels.samples();
  for (const held = []; kernels.samples().buffer === buffer;) held.push(kernels.allocate(65_536));
}

it.each(Object.entries(kept))(
  '%s goes on as it was when the memory of kernels grows beside it, and what changes then is heard',
  (id, values) => {
    const effect = effectsById.get(id)!;
    const input = [noise(6_000, 3, -6), noise(6_000, 4, -6)];
    const [first] = Object.entries(effect.parameters).filter(([, parameter]) => parameter.kind === 'number');
    const changed = first && first[1].kind === 'number' ? { [first[0]]: first[1].max } : {};
    const settings = { values, blocks: [512], change: { at: 2_048, values: changed } };
    let count = 0;
    const beside = runEffect(effect, input, { ...settings, between: () => (++count === 3 ? grow() : undefined) });
    expect(firstDifference(runEffect(effect, input, settings), beside)).toBe('');
  },
);
