import { measure } from '../analysis/loudness/measure';
import { effectCatalogue } from '../catalogue';
import type { Delivery } from '../project/schema';
import { projectWith } from '../testing/project';
import { mono, noise } from '../testing/signals';
import { withGain } from '../audio/audio';
import { levelledAsHeard } from './decoded';
import { planSound } from './plan';
import { renderItem } from './render-item';

const rate = 48_000;

/** By how much an item is turned, of which a codec has changed the level by so much. */
function turn(frames: number, lost: number, settings: Partial<Delivery>, down = false): number | undefined {
  const { project, context } = projectWith({ Slab: mono(noise(frames, 3, -12)) });
  const delivery: Delivery = { ...project.deliveries[0]!, format: 'vorbis', ...settings };
  const [item] = planSound(project, project.sounds[0]!, delivery, effectCatalogue);
  const coded = renderItem(item!, delivery, context);
  const heard = { ...coded, measured: measure(withGain(coded.audio, lost)) };
  const turned = levelledAsHeard(coded, heard, item!, delivery, down);
  return turned && turned.audio.channels[0]![frames >> 1]! / coded.audio.channels[0]![frames >> 1]!;
}
const gain = (decibels: number): number => 10 ** (decibels / 20);

describe('what a codec changed', () => {
  it.each([1.5, -1.5])('is made up for, up and down, where a true peak is asked for (%f dB)', (changed) => {
    expect(turn(rate, changed, { level: 'true peak', ceiling: -6 })).toBeCloseTo(gain(-changed), 3);
  });

  it('is turned down alone where it was turned already, in a sheet, and never up beyond full scale', () => {
    const settings = { level: 'true peak', ceiling: -6 } as const;
    expect(turn(rate, -1.5, settings, true)).toBeUndefined();
    expect(turn(rate, 1.5, settings, true)).toBeCloseTo(gain(-1.5), 3);
    expect(turn(rate, -1.5, { ...settings, sheet: true })).toBeUndefined();
    expect(turn(rate, -3, { level: 'true peak', ceiling: -1 })).toBeCloseTo(gain(1), 3);
  });

  it('is made up for to a loudness, as far as the true peak lets it', () => {
    expect(turn(rate, 0.7, { level: 'loudness', loudness: -30, ceiling: -1 })).toBeCloseTo(gain(-0.7), 3);
    expect(turn(rate, -0.7, { level: 'loudness', loudness: -30, ceiling: -1 })).toBeCloseTo(gain(0.7), 3);
  });

  it('leaves alone what is too quiet to have a loudness', () => {
    expect(turn(rate, -80, { level: 'loudness', loudness: -50, ceiling: 0 })).toBeUndefined();
  });

  it.each(['as it is', 'gain'] as const)('is left alone where the level is %s', (level) => {
    expect(turn(rate, 3, { level, gain: -3, ceiling: -30 })).toBeUndefined();
  });
});
