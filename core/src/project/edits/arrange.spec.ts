import type { Audio } from '../../audio/audio';
import { frameCount } from '../../audio/audio';
import { renderContext } from '../../render/library';
import { renderSound } from '../../render/render-sound';
import { edited, projectWith } from '../../testing/project';
import { mono, noise, residual, sine } from '../../testing/signals';
import { clipEnd, syncTime } from '../clip-times';
import type { Clip, Project } from '../schema';
import type { EditArguments, EditName } from '.';

const rate = 48_000;

/** A project whose sound has one layer with one clip, and shorthands to edit and to hear it. */
class Bench {
  project: Project;
  private readonly library;

  constructor(recording: Audio, other: Audio = mono(noise(rate, 8, -20))) {
    const { project, context } = projectWith({ 'Ridge wind': recording, 'Ice crack': other });
    this.project = project;
    this.library = context.library;
  }

  get sound(): string {
    return this.project.sounds[0]!.id;
  }

  layer(index = 0) {
    return this.project.sounds[0]!.layers[index]!;
  }

  clips(index = 0): readonly Clip[] {
    return [...this.layer(index).clips].sort((a, b) => a.start - b.start);
  }

  get clip(): Clip {
    return this.layer().clips[0]!;
  }

  do<N extends EditName>(name: N, args: Omit<EditArguments<N>, 'sound'>): this {
    this.project = edited(this.project, name, { sound: this.sound, ...args } as EditArguments<N>);
    return this;
  }

  set(values: Record<string, number>): this {
    return this.do('setValues', { values, label: 'Set' });
  }

  speed(value: number): this {
    return this.set({ [`layer/${this.layer().id}/clip/${this.clip.id}/speed`]: value });
  }

  /** What the first layer alone sounds like. */
  render(): Float32Array {
    const sound = { ...this.project.sounds[0]!, layers: [this.layer()] };
    return renderSound(sound, renderContext(this.project, this.library), { tail: 'cut at the last clip' }).channels[0]!;
  }
}

/** The largest step from sample to sample. */
function roughness(samples: Float32Array, from = 0, to = samples.length): number {
  let most = 0;
  for (let i = from + 1; i < to; i++) most = Math.max(most, Math.abs(samples[i]! - samples[i - 1]!));
  return most;
}

describe('trimming', () => {
  it('the start keeps what sounds where', () => {
    const bench = new Bench(mono(noise(rate)));
    bench.do('trimClips', { side: 'start', to: [{ clip: bench.clip.id, time: 0.25 }] });
    expect(bench.clip).toMatchObject({ start: 0.25, offset: 0.25, length: 0.75 });
    expect(bench.clip.fadeIn.length).toBeGreaterThan(0);
  });

  it('goes no further than the source and leaves at least a millisecond', () => {
    const after = (side: 'start' | 'end', time: number): number => {
      const bench = new Bench(mono(noise(rate)));
      return bench.do('trimClips', { side, to: [{ clip: bench.clip.id, time }] }).clip.length;
    };
    expect(after('end', 99)).toBeCloseTo(1);
    expect(after('end', 0)).toBeCloseTo(0.001);
    expect(after('start', 99)).toBeCloseTo(0.001);
  });

  it('counts in the time of a fast clip', () => {
    const bench = new Bench(mono(noise(rate))).speed(12);
    bench.do('trimClips', { side: 'start', to: [{ clip: bench.clip.id, time: 0.25 }] });
    expect(bench.clip.offset).toBeCloseTo(0.5);
    expect(bench.clip.length).toBeCloseTo(0.5);
  });

  it('takes a reversed clip from the ends that are seen', () => {
    const bench = new Bench(mono(noise(rate)));
    bench.do('reverseClips', { clips: [bench.clip.id] });
    bench.do('trimClips', { side: 'start', to: [{ clip: bench.clip.id, time: 0.3 }] });
    expect(bench.clip.offset).toBeCloseTo(0);
    expect(bench.clip.length).toBeCloseTo(0.7);
    bench.do('trimClips', { side: 'end', to: [{ clip: bench.clip.id, time: 0.6 }] });
    expect(bench.clip.offset).toBeCloseTo(0.4);
    expect(bench.clip.length).toBeCloseTo(0.3);
  });
});

describe('speed curves', () => {
  it('keep one speed where two points would lie on each other, so that the document stays valid', () => {
    const bench = new Bench(mono(noise(rate)));
    const points = [
      { at: 0.5, semitones: 3 },
      { at: 0.2, semitones: 1 },
      { at: 0.5, semitones: 50 },
    ];
    bench.do('setSpeedCurve', { clip: bench.clip.id, points });
    expect(bench.clip.speedCurve).toEqual([
      { at: 0.2, semitones: 1 },
      { at: 0.5, semitones: 36 },
    ]);
    bench.do('setSpeedCurve', { clip: bench.clip.id, points: [] });
    expect(bench.clip).not.toHaveProperty('speedCurve');
  });

  it('stay with a clip whose content is slipped, which keeps its length', () => {
    const bench = new Bench(mono(noise(rate)));
    bench.do('trimClips', { side: 'end', to: [{ clip: bench.clip.id, time: 0.5 }] });
    bench.do('setSpeedCurve', {
      clip: bench.clip.id,
      points: [
        { at: 0.1, semitones: -5 },
        { at: 0.4, semitones: 7 },
      ],
    });
    const before = clipEnd(bench.clip);
    bench.do('slipClips', { to: [{ clip: bench.clip.id, offset: 0.3 }] });
    expect(bench.clip.offset).toBeCloseTo(0.3);
    expect(clipEnd(bench.clip)).toBeCloseTo(before, 9);
  });
});

describe('splitting', () => {
  it.each([
    ['in crossfading layers', 0, 'crossfade' as const],
    ['in summing layers', 0, 'sum' as const],
    ['at another speed', -5.3, 'crossfade' as const],
  ])('changes nothing that can be heard, %s', (_, speed, overlaps) => {
    const bench = new Bench(mono(noise(rate, 4, -6))).speed(speed);
    bench.do('setOverlaps', { layer: bench.layer().id, overlaps });
    const before = bench.render();
    bench.do('splitClips', { clips: [bench.clip.id], time: 0.412345 });
    expect(bench.clips()).toHaveLength(2);
    expect(residual(before, bench.render())).toBeLessThan(-120);
  });

  it.each([
    ['forwards', false],
    ['backwards', true],
  ])('changes nothing within a speed curve, %s', (_, reversed) => {
    const points = [
      { at: 0.1, semitones: -7 },
      { at: 0.5, semitones: 9 },
      { at: 0.8, semitones: 1 },
    ];
    const bench = new Bench(mono(noise(rate, 4, -6)));
    bench.do('setSpeedCurve', { clip: bench.clip.id, points });
    if (reversed) bench.do('reverseClips', { clips: [bench.clip.id] });
    const before = bench.render();
    bench.do('splitClips', { clips: [bench.clip.id], time: 0.312345 });
    expect(bench.clips()).toHaveLength(2);
    expect(residual(before, bench.render())).toBeLessThan(-110);
  });

  it('leaves halves that do not click when they are moved apart, on a sine and on DC', () => {
    for (const recording of [sine(50, 1, rate, -3), new Float32Array(rate).fill(0.7)]) {
      const bench = new Bench(mono(recording));
      bench.do('fadeClips', { clips: [bench.clip.id], side: 'in', length: 0.003 });
      bench.do('splitClips', { clips: [bench.clip.id], time: 0.5 });
      const right = bench.clips()[1]!;
      bench.do('moveClips', { to: [{ clip: right.id, start: right.start + 0.2 }] });
      // A raised cosine of 3 ms moves by at most π/2 per 144 samples.
      expect(roughness(bench.render())).toBeLessThan((0.75 * Math.PI) / 2 / 140 + 0.005);
    }
  });

  it('says when the playhead is in none of the clips', () => {
    const bench = new Bench(mono(noise(rate)));
    expect(() => bench.do('splitClips', { clips: [bench.clip.id], time: 3 })).toThrow('not inside');
  });

  it('leaves locked clips alone', () => {
    const bench = new Bench(mono(noise(rate)));
    bench.do('lockClips', { clips: [bench.clip.id], locked: true });
    expect(() => bench.do('splitClips', { clips: [bench.clip.id], time: 0.5 })).toThrow('is locked');
    expect(() => bench.do('moveClips', { to: [{ clip: bench.clip.id, start: 1 }] })).toThrow('is locked');
    expect(() => bench.do('removeClips', { clips: [bench.clip.id] })).toThrow('is locked');
  });
});

describe('copies', () => {
  it('repeat at an interval with a step in level and in pitch', () => {
    const bench = new Bench(mono(noise(rate / 4)));
    bench.do('repeatClips', { clips: [bench.clip.id], times: 3, interval: 0.5, levelStep: -4, pitchStep: 1.5 });
    expect(bench.clips().map(({ start, gain, speed }) => [start, gain, speed])).toEqual([
      [0, 0, 0],
      [0.5, -4, 1.5],
      [1, -8, 3],
      [1.5, -12, 4.5],
    ]);
  });

  it('duplicate keeps the rhythm of what was chosen', () => {
    const bench = new Bench(mono(noise(rate / 4)));
    bench.do('copyClips', { to: [{ clip: bench.clip.id, start: 0.6 }] });
    bench.do('duplicateClips', { clips: bench.clips().map(({ id }) => id) });
    expect(bench.clips().map(({ start }) => start)).toEqual([0, 0.6, 0.85, 1.45]);
  });

  it('paste onto the layer they came from, or the given one', () => {
    const bench = new Bench(mono(noise(rate)));
    const copied = [{ clip: bench.clip, layer: bench.layer().id }];
    bench.do('pasteClips', { copied, shift: 2 });
    expect(bench.clips().map(({ start }) => start)).toEqual([0, 2]);
    bench.do('pasteClips', { copied: [{ clip: bench.clip, layer: 'layer-99' }], shift: 1, layer: bench.layer(1).id });
    expect(bench.clips(1).map(({ start }) => start)).toEqual([0, 1]);
    expect(() => bench.do('pasteClips', { copied: [{ clip: bench.clip, layer: 'layer-99' }], shift: 1 })).toThrow('no layer');
  });

  it('of a group are a group of their own', () => {
    const bench = new Bench(mono(noise(rate / 4)));
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
    const bench = new Bench(mono(recording)).speed(speed);
    if (reversed) bench.do('reverseClips', { clips: [bench.clip.id] });
    bench.do('landClips', { to: [{ clip: bench.clip.id, time: 2.5, sync: { at: 0.4, kind: 'transient' } }] });
    expect(syncTime(bench.clip)).toBeCloseTo(2.5, 9);
    const heard = bench.render();
    let peak = 0;
    heard.forEach((value, i) => (peak = Math.abs(value) > Math.abs(heard[peak]!) ? i : peak));
    expect(Math.abs(peak / rate - 2.5)).toBeLessThan(0.0001);
  });

  it('keeps its point when the clip is trimmed, and refuses what would begin before 0', () => {
    const bench = new Bench(mono(noise(rate)));
    bench.do('setSyncPoints', { to: [{ clip: bench.clip.id, sync: { at: 0.4, kind: 'by hand' } }] });
    bench.do('trimClips', { side: 'start', to: [{ clip: bench.clip.id, time: 0.2 }] });
    expect(syncTime(bench.clip)).toBeCloseTo(0.4);
    expect(() => bench.do('landClips', { to: [{ clip: bench.clip.id, time: 0.1 }] })).toThrow('before the sound does');
  });
});

describe('lengths', () => {
  it('fit by speed', () => {
    const bench = new Bench(mono(noise(rate)));
    bench.do('fitClips', { clips: [bench.clip.id], duration: 0.5 });
    expect(bench.clip.speed).toBeCloseTo(12);
    expect(clipEnd(bench.clip)).toBeCloseTo(0.5);
    expect(() => bench.do('fitClips', { clips: [bench.clip.id], duration: 60 })).toThrow('three octaves');
  });

  it('close gaps moves each clip to the end of the one before', () => {
    const bench = new Bench(mono(noise(rate / 2)));
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

describe('carving', () => {
  it('leaves a hole of the wanted width with faded edges, and nothing clicks', () => {
    const bench = new Bench(mono(new Float32Array(rate).fill(0.5)));
    bench.do('fadeClips', { clips: [bench.clip.id], side: 'in', length: 0.01 });
    bench.do('carve', { layers: [bench.layer().id], hole: { time: 0.5, before: 0.02, after: 0.06, fade: 0.01 } });
    const heard = bench.render();
    expect(heard[Math.round(0.46 * rate)]).toBeCloseTo(0.5, 5);
    for (const time of [0.4801, 0.5, 0.5599]) expect(Math.abs(heard[Math.round(time * rate)]!)).toBeLessThan(0.001);
    expect(heard[Math.round(0.571 * rate)]).toBeCloseTo(0.5, 5);
    expect(roughness(heard)).toBeLessThan((0.5 * Math.PI) / 2 / 140);
  });

  it('takes clips away that lie in the hole, shortens those that end in it, and says when nothing is there', () => {
    const bench = new Bench(mono(noise(rate / 10)));
    bench.do('copyClips', { to: [{ clip: bench.clip.id, start: 0.45 }] });
    bench.do('carve', { layers: [bench.layer().id], hole: { time: 0.05, before: 0.06, after: 0.06, fade: 0.01 } });
    expect(bench.clips().map(({ start }) => start)).toEqual([0.45]);
    bench.do('carve', { layers: [bench.layer().id], hole: { time: 0.55, before: 0.05, after: 0.06, fade: 0.01 } });
    expect(clipEnd(bench.clip)).toBeCloseTo(0.5);
    expect(() => bench.do('carve', { layers: [bench.layer().id], hole: { time: 3, before: 0.1, after: 0.1, fade: 0.01 } })).toThrow(
      'nothing to carve',
    );
  });
});

describe('reverse and loop', () => {
  it('reverse plays the used part backwards, at any speed', () => {
    const bench = new Bench(mono(noise(rate, 7, -6)));
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
    const bench = new Bench(mono(sine(97.3, 1, rate, -6)));
    bench.do('loopClip', { clip: bench.clip.id, loop: { from: 0.2, to: 0.83, crossfade: 0.05, duration: 5 } });
    const heard = bench.render();
    expect(heard).toHaveLength(5 * rate);
    expect(roughness(heard, 100, heard.length - 200)).toBeLessThan(1.25 * roughness(sine(97.3, 1, rate, -6)));
  });

  it('a loop of unrelated noise keeps its level within 0.5 dB across the joins', () => {
    const bench = new Bench(mono(noise(2 * rate, 21, -6)));
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
    const bench = new Bench(mono(noise(rate)));
    bench.do('loopClip', { clip: bench.clip.id, loop: { from: 0.2, to: 0.6, crossfade: 0.05, duration: 5 } });
    bench.do('loopClip', { clip: bench.clip.id, loop: undefined });
    expect(bench.clip.length).toBeCloseTo(1);
    expect(() => bench.do('loopClip', { clip: bench.clip.id, loop: { from: 0.2, to: 0.201, crossfade: 0, duration: 5 } })).toThrow(
      'shorter than 5 ms',
    );
  });
});

describe('chopping', () => {
  const settings = {
    division: '1/8' as const,
    denser: 0,
    gap: 0,
    order: 'as recorded' as const,
    every: 0,
    everyPitch: 0,
    everyReversed: false,
    seed: 1,
  };

  it('cuts on the lines of the grid', () => {
    const bench = new Bench(mono(noise(rate)));
    bench.do('setTempo', { tempo: { bpm: 150, offset: 0.1 } });
    bench.do('chopClip', { clip: bench.clip.id, settings });
    // Eighths at 150 bpm last 0.2 s.
    expect(bench.clips().map(({ start }) => Math.round(start * 1e6) / 1e6)).toEqual([0, 0.1, 0.3, 0.5, 0.7, 0.9]);
  });

  it('keeps what is heard but for the edges when nothing else is asked', () => {
    const bench = new Bench(mono(sine(200, 1, rate, -6)));
    const before = bench.render();
    bench.do('chopClip', { clip: bench.clip.id, settings });
    const after = bench.render();
    // In the middle of each slice, away from the 3 ms edges.
    for (const at of [0.1, 0.4, 0.6, 0.9]) {
      const from = Math.round(at * rate);
      expect(residual(before, after, from, from + 1_000)).toBeLessThan(-120);
    }
  });

  it('gets denser toward the end, on the grid', () => {
    const bench = new Bench(mono(noise(2 * rate)));
    bench.do('chopClip', { clip: bench.clip.id, settings: { ...settings, division: '1/4', denser: 1 } });
    expect(bench.clips().map(({ start }) => start)).toEqual([0, 0.5, 1, 1.25, 1.5, 1.75]);
  });

  it('leaves gaps, and shuffles the same way for the same seed', () => {
    const order = (seed: number): number[] => {
      const bench = new Bench(mono(noise(2 * rate)));
      bench.do('chopClip', { clip: bench.clip.id, settings: { ...settings, gap: 0.25, order: 'shuffled', seed } });
      expect(bench.clips()).toHaveLength(8);
      for (const clip of bench.clips()) expect(clip.length).toBeCloseTo(0.25 * 0.75);
      return bench.clips().map(({ offset }) => offset);
    };
    expect(order(5)).toEqual(order(5));
    expect(order(5)).not.toEqual(order(6));
    expect([...order(5)].sort((a, b) => a - b)).toEqual([0, 0.25, 0.5, 0.75, 1, 1.25, 1.5, 1.75]);
  });

  it('changes every n-th slice', () => {
    const bench = new Bench(mono(noise(rate)));
    bench.do('chopClip', { clip: bench.clip.id, settings: { ...settings, every: 2, everyPitch: 12, everyReversed: true } });
    expect(bench.clips().map(({ speed, reversed }) => [speed, reversed])).toEqual([
      [0, false],
      [12, true],
      [0, false],
      [12, true],
    ]);
  });

  it('refuses notes longer than the clip', () => {
    const bench = new Bench(mono(noise(rate / 10)));
    expect(() => bench.do('chopClip', { clip: bench.clip.id, settings })).toThrow('shorter than one note');
  });

  it('stutters: halves and doubles over the length of the clip', () => {
    const bench = new Bench(mono(noise(rate)));
    bench.do('stutterClip', { clip: bench.clip.id, settings: { division: '1/8', steps: 2, shape: 'halve, then double' } });
    const clips = bench.clips();
    // 0.25 s notes: once, twice, four times, twice.
    expect(clips.map(({ length }) => Math.round(length * 1e4) / 1e4)).toEqual([
      0.25, 0.125, 0.125, 0.0625, 0.0625, 0.0625, 0.0625, 0.125, 0.125,
    ]);
    expect(clips.slice(1, 3).map(({ offset }) => offset)).toEqual([0.25, 0.25]);
    expect(clipEnd(clips.at(-1)!)).toBeCloseTo(1);
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
      let joined = edited(project, 'addClip', { sound: sound.id, layer: sound.layers[0]!.id, source: second.source, start: 0 });
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
    const bench = new Bench(mono(new Float32Array(rate).fill(0.25)), mono(new Float32Array(rate / 4).fill(0.25)));
    bench.do('addClip', { layer: bench.layer().id, source: bench.clips(1)[0]!.source, start: 0.4 });
    expect(bench.render()[Math.round(0.5 * rate)]).toBeCloseTo(0.5, 5);
  });
});

it('every clip that an edit makes has frames to play', () => {
  const bench = new Bench(mono(noise(rate)));
  expect(frameCount({ sampleRate: rate, channels: [bench.render()] })).toBe(rate);
});
