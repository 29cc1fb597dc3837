import { effectCatalogue } from '../../catalogue';
import { parseProject } from '../parse';
import { renderSound } from '../../render/render-sound';
import { ArrangeBench, roughness } from '../../testing/arrange-bench';
import { edited, projectWith, sourceFor } from '../../testing/project';
import { mono, noise, residual, sine } from '../../testing/signals';
import { clipEnd, syncTime } from '../time/clip-times';

const rate = 48_000;

describe('speed curves', () => {
  it('keep one speed where two points would lie on each other, so that the document stays valid', () => {
    const bench = new ArrangeBench(mono(noise(rate)));
    const points = [
      { at: 0.5, value: 3 },
      { at: 0.2, value: 1 },
      { at: 0.5, value: 50 },
    ];
    bench.do('setClipCurve', { clip: bench.clip.id, curve: 'speed', points });
    expect(bench.clip.curves?.speed).toEqual([
      { at: 0.2, value: 1 },
      { at: 0.5, value: 36 },
    ]);
    bench.do('setClipCurve', { clip: bench.clip.id, curve: 'speed', points: [] });
    expect(bench.clip).not.toHaveProperty('curves');
  });

  it('stay with a clip whose content is slipped, which keeps its length', () => {
    const bench = new ArrangeBench(mono(noise(rate)));
    bench.do('trimClips', { side: 'end', to: [{ clip: bench.clip.id, time: 0.5 }] });
    bench.do('setClipCurve', {
      clip: bench.clip.id,
      curve: 'speed',
      points: [
        { at: 0.1, value: -5 },
        { at: 0.4, value: 7 },
      ],
    });
    const before = clipEnd(bench.clip);
    bench.do('slipClips', { to: [{ clip: bench.clip.id, offset: 0.3 }] });
    expect(bench.clip.offset).toBeCloseTo(0.3);
    expect(clipEnd(bench.clip)).toBeCloseTo(before, 9);
  });
});

describe('copies', () => {
  it('repeat at an interval with a step in level and in pitch', () => {
    const bench = new ArrangeBench(mono(noise(rate / 4)));
    bench.do('repeatClips', { clips: [bench.clip.id], times: 3, interval: 0.5, levelStep: -4, pitchStep: 1.5 });
    expect(bench.clips().map(({ start, gain, speed }) => [start, gain, speed])).toEqual([
      [0, 0, 0],
      [0.5, -4, 1.5],
      [1, -8, 3],
      [1.5, -12, 4.5],
    ]);
  });

  it('duplicate keeps the rhythm of what was chosen', () => {
    const bench = new ArrangeBench(mono(noise(rate / 4)));
    bench.do('copyClips', { to: [{ clip: bench.clip.id, start: 0.6 }] });
    bench.do('duplicateClips', { clips: bench.clips().map(({ id }) => id) });
    expect(bench.clips().map(({ start }) => start)).toEqual([0, 0.6, 0.85, 1.45]);
  });

  it('paste onto the layer they came from, or the given one', () => {
    const bench = new ArrangeBench(mono(noise(rate)));
    const copied = [{ clip: bench.clip, layer: bench.layer().id }];
    bench.do('pasteClips', { copied, shift: 2 });
    expect(bench.clips().map(({ start }) => start)).toEqual([0, 2]);
    bench.do('pasteClips', { copied: [{ clip: bench.clip, layer: 'layer-99' }], shift: 1, layer: bench.layer(1).id });
    expect(bench.clips(1).map(({ start }) => start)).toEqual([0, 1]);
    expect(() => bench.do('pasteClips', { copied: [{ clip: bench.clip, layer: 'layer-99' }], shift: 1 })).toThrow('no layer');
  });

  it('of a group are a group of their own', () => {
    const bench = new ArrangeBench(mono(noise(rate / 4)));
    bench.do('duplicateClips', { clips: [bench.clip.id] });
    bench.do('groupClips', { clips: bench.clips().map(({ id }) => id), together: true });
    bench.do('duplicateClips', { clips: bench.clips().map(({ id }) => id) });
    const groups = bench.clips().map(({ group }) => group);
    expect(groups[0]).toBe(groups[1]);
    expect(groups[2]).toBe(groups[3]);
    expect(groups[0]).not.toBe(groups[2]);
  });
});

describe('landing', () => {
  it.each([
    [0, false],
    [7, false],
    [-3.5, true],
  ])('puts the sync point on the moment, at speed %f, reversed %s', (speed, reversed) => {
    const recording = noise(rate, 5, -60);
    recording[19_200] = 0.9;
    const bench = new ArrangeBench(mono(recording)).speed(speed);
    if (reversed) bench.do('reverseClips', { clips: [bench.clip.id] });
    bench.do('landClips', { to: [{ clip: bench.clip.id, time: 2.5, sync: { at: 0.4, kind: 'transient' } }] });
    expect(syncTime(bench.clip)).toBeCloseTo(2.5, 9);
    const heard = bench.render();
    let peak = 0;
    heard.forEach((value, i) => (peak = Math.abs(value) > Math.abs(heard[peak]!) ? i : peak));
    expect(Math.abs(peak / rate - 2.5)).toBeLessThan(0.0001);
  });

  it('keeps its point when the clip is trimmed, and refuses what would begin before 0', () => {
    const bench = new ArrangeBench(mono(noise(rate)));
    bench.do('setSyncPoints', { to: [{ clip: bench.clip.id, sync: { at: 0.4, kind: 'by hand' } }] });
    bench.do('trimClips', { side: 'start', to: [{ clip: bench.clip.id, time: 0.2 }] });
    expect(syncTime(bench.clip)).toBeCloseTo(0.4);
    expect(() => bench.do('landClips', { to: [{ clip: bench.clip.id, time: 0.1 }] })).toThrow('before the sound does');
  });
});

describe('a clip whose source has become too short for it', () => {
  it('stays a clip when its end is trimmed', () => {
    const bench = new ArrangeBench(mono(noise(rate)));
    bench.do('trimClips', { side: 'start', to: [{ clip: bench.clip.id, time: 0.6 }] });
    const { audio, frames, channels, origin } = sourceFor('Short', mono(noise(0.2 * rate)));
    const project = edited(bench.project, 'relinkSource', { source: bench.clip.source!, audio, frames, channels, origin });
    const sound = project.sounds[0]!;
    const trimmed = edited(project, 'trimClips', { sound: sound.id, side: 'end', to: [{ clip: bench.clip.id, time: 0.7 }] });
    expect(trimmed.sounds[0]!.layers[0]!.clips[0]!.length).toBeGreaterThan(0);
    expect(() => parseProject(trimmed, effectCatalogue)).not.toThrow();
  });
});

describe('lengths', () => {
  it('fit by speed', () => {
    const bench = new ArrangeBench(mono(noise(rate)));
    bench.do('fitClips', { clips: [bench.clip.id], duration: 0.5 });
    expect(bench.clip.speed).toBeCloseTo(12);
    expect(clipEnd(bench.clip)).toBeCloseTo(0.5);
    expect(() => bench.do('fitClips', { clips: [bench.clip.id], duration: 60 })).toThrow('three octaves');
  });

  it('close gaps moves each clip to the end of the one before', () => {
    const bench = new ArrangeBench(mono(noise(rate / 2)));
    bench.do('copyClips', {
      to: [
        { clip: bench.clip.id, start: 2 },
        { clip: bench.clip.id, start: 4 },
      ],
    });
    bench.do('closeGaps', { clips: bench.clips().map(({ id }) => id) });
    expect(bench.clips().map(({ start }) => start)).toEqual([0, 0.5, 1]);
  });
});

describe('reverse and loop', () => {
  it('reverse plays the used part backwards, at any speed', () => {
    const bench = new ArrangeBench(mono(noise(rate, 7, -6)));
    bench.do('trimClips', { side: 'start', to: [{ clip: bench.clip.id, time: 0.25 }] });
    bench.do('fadeClips', { clips: [bench.clip.id], side: 'in', length: 0 });
    bench.do('fadeClips', { clips: [bench.clip.id], side: 'out', length: 0 });
    const forward = bench.render().subarray(0.25 * rate);
    bench.do('reverseClips', { clips: [bench.clip.id] });
    bench.do('fadeClips', { clips: [bench.clip.id], side: 'in', length: 0 });
    bench.do('fadeClips', { clips: [bench.clip.id], side: 'out', length: 0 });
    const backward = bench.render().subarray(0.25 * rate);
    // The render itself takes down the last 10 ms of what is cut while it sounds.
    expect(residual(forward, backward.slice().reverse(), 480, forward.length - 480)).toBe(-Infinity);
  });

  it('a looped tone goes on without a break or a dip for as long as wanted', () => {
    // 97.3 Hz: the period fits neither the loop nor the block.
    const bench = new ArrangeBench(mono(sine(97.3, 1, rate, -6)));
    bench.do('loopClip', { clip: bench.clip.id, loop: { from: 0.2, to: 0.83, crossfade: 0.05, duration: 5 } });
    const heard = bench.render();
    expect(heard).toHaveLength(5 * rate);
    expect(roughness(heard, 100, heard.length - 200)).toBeLessThan(1.25 * roughness(sine(97.3, 1, rate, -6)));
  });

  it('a loop of unrelated noise keeps its level within 0.5 dB across the joins', () => {
    const bench = new ArrangeBench(mono(noise(2 * rate, 21, -6)));
    bench.do('loopClip', { clip: bench.clip.id, loop: { from: 0.5, to: 1.5, crossfade: 0.3, duration: 9 } });
    const heard = bench.render();
    const level = (from: number, seconds: number): number => {
      let sum = 0;
      for (let i = Math.round(from * rate); i < Math.round((from + seconds) * rate); i++) sum += heard[i]! ** 2;
      return 10 * Math.log10(sum / (seconds * rate));
    };
    for (let join = 1.5; join < 8; join += 1) expect(Math.abs(level(join - 0.25, 0.2) - level(0.2, 0.9))).toBeLessThan(0.5);
  });

  it('a loop can be taken away again', () => {
    const bench = new ArrangeBench(mono(noise(rate)));
    bench.do('loopClip', { clip: bench.clip.id, loop: { from: 0.2, to: 0.6, crossfade: 0.05, duration: 5 } });
    bench.do('loopClip', { clip: bench.clip.id, loop: undefined });
    expect(bench.clip.length).toBeCloseTo(1);
    expect(() => bench.do('loopClip', { clip: bench.clip.id, loop: { from: 0.2, to: 0.201, crossfade: 0, duration: 5 } })).toThrow(
      'shorter than 5 ms',
    );
  });
});

describe('overlaps', () => {
  it('crossfade so that related and unrelated sides both keep their level within 0.2 dB', () => {
    const one = noise(2 * rate, 31, -10);
    const other = noise(2 * rate, 32, -10);
    for (const share of [1, 0.6, 0, -0.5]) {
      const mixed = one.map((value, i) => share * value + Math.sqrt(1 - share * share) * other[i]!);
      const { project, context } = projectWith({ 'Ridge wind': mono(one), 'Ice crack': mono(mixed) });
      const sound = project.sounds[0]!;
      const second = sound.layers[1]!.clips[0]!;
      let joined = edited(project, 'addClip', { sound: sound.id, layer: sound.layers[0]!.id, source: second.source!, start: 0 });
      const added = joined.sounds[0]!.layers[0]!.clips[1]!;
      // The first ends at 1.5 s; the second begins at 0.5 s with the very same moment of its own recording.
      joined = edited(joined, 'trimClips', { sound: sound.id, side: 'end', to: [{ clip: sound.layers[0]!.clips[0]!.id, time: 1.5 }] });
      joined = edited(joined, 'trimClips', { sound: sound.id, side: 'start', to: [{ clip: added.id, time: 0.5 }] });
      const { channels } = renderSound({ ...joined.sounds[0]!, layers: [joined.sounds[0]!.layers[0]!] }, context, { tail: 'ring out' });
      const level = (from: number, to: number): number => {
        let sum = 0;
        for (let i = Math.round(from * rate); i < Math.round(to * rate); i++) sum += channels[0]![i]! ** 2;
        return 10 * Math.log10(sum / ((to - from) * rate));
      };
      // Across the whole crossfade, in tenths; noise itself wanders by about 0.15 dB in 4800 samples.
      let sum = 0;
      for (let from = 0.5; from < 1.45; from += 0.1) sum += level(from, from + 0.1) / 10;
      expect(Math.abs(sum - level(0.05, 0.45))).toBeLessThan(0.2);
    }
  });

  it('of a clip within another add up', () => {
    const bench = new ArrangeBench(mono(new Float32Array(rate).fill(0.25)), mono(new Float32Array(rate / 4).fill(0.25)));
    bench.do('addClip', { layer: bench.layer().id, source: bench.clips(1)[0]!.source!, start: 0.4 });
    expect(bench.render()[Math.round(0.5 * rate)]).toBeCloseTo(0.5, 5);
  });
});
