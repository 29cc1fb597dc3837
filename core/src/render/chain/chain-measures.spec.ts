import { defineEffect } from '../../effects/effect';
import { decibels, reference, resolveValues } from '../../project/parameters';
import { mono } from '../../testing/signals';
import { stepRecordings, stepReferences } from './chain-measures';

/** An effect that takes four things from elsewhere. */
const loom = defineEffect({
  id: 'loom',
  label: 'Loom',
  family: 'Image',
  channels: 'each',
  purpose: 'Weaves sounds into each other.',
  parameters: {
    warp: reference('Warp', 'layer', 'nothing'),
    weft: reference('Weft', 'layer', 'nothing'),
    fine: reference('Fine', 'source', 'nothing'),
    coarse: reference('Coarse', 'source', 'nothing'),
    level: decibels({ label: 'Level', min: -24, max: 24, default: 0 }),
  },
  presets: [],
  latency: () => 0,
  tail: () => 0,
  create: () => ({ process: () => undefined, reset: () => undefined }),
});
const chosen = { warp: 'layer/1', weft: 'bus/2', fine: 'source/3', coarse: 'source/4' };

describe('what an effect takes from elsewhere', () => {
  it('may be several things, each by the name of its parameter', () => {
    const values = resolveValues(loom.parameters, chosen);
    expect(stepReferences(loom, values, 'layer')).toEqual([
      ['warp', { kind: 'layer', id: '1' }],
      ['weft', { kind: 'bus', id: '2' }],
    ]);
    expect(stepReferences(loom, values, 'source').map(([name]) => name)).toEqual(['fine', 'coarse']);
    const recordings = { '3': mono(Float32Array.of(3)), '4': mono(Float32Array.of(4)) };
    const found = stepRecordings(loom, values, { source: (id) => recordings[id as '3' | '4'] });
    expect(found).toEqual({ fine: recordings['3'], coarse: recordings['4'] });
  });

  it('is missing where nothing is chosen or what was chosen is gone', () => {
    expect(stepReferences(loom, resolveValues(loom.parameters, {}), 'layer')).toEqual([]);
    expect(stepRecordings(loom, resolveValues(loom.parameters, chosen), { source: () => undefined })).toEqual({});
    expect(stepRecordings(loom, resolveValues(loom.parameters, chosen), {})).toEqual({});
  });
});
