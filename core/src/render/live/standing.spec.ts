import { laneValue } from '../../automation/lane-value';
import { projectWith } from '../../testing/project';
import { mono, noise } from '../../testing/signals';
import { standing } from './standing';

describe('a sound that stands', () => {
  const [sound] = projectWith({ Crack: mono(noise(4_800)) }).project.sounds;
  const layer = sound!.layers[0]!;
  const gain = { kind: 'number', label: 'Gain', unit: 'dB', min: -60, max: 12, default: 0, scale: 'linear' } as const;
  const lane = (address: string) => ({
    id: address,
    address,
    enabled: true,
    stepped: false,
    trim: -2,
    points: [
      { time: 0, value: 0, bend: 0 },
      { time: 2, value: -20, bend: 0 },
    ],
  });
  const moved = { ...sound!, automation: [lane(`layer/${layer.id}/gain`), lane('layer/gone/gain')] };

  it('has no clips, and lanes that stay where they are at that moment, with their trim', () => {
    const stood = standing(moved, 1);
    expect(stood.layers.map(({ id, clips }) => [id, clips])).toEqual([[layer.id, []]]);
    for (const time of [0, 1, 500]) expect(laneValue(stood.automation[0]!, gain, time)).toBeCloseTo(-12, 6);
    expect(laneValue(standing(moved, 9).automation[0]!, gain, 0)).toBeCloseTo(-22, 6);
  });

  it('leaves lanes alone that lead nowhere, and the sound that it was made from', () => {
    expect(standing(moved, 1).automation[1]).toEqual(moved.automation[1]);
    expect(moved.layers[0]!.clips).toHaveLength(1);
    expect(moved.automation[0]!.points).toHaveLength(2);
  });
});
