import { measure } from '../analysis/loudness/measure';
import { frameCount } from '../audio/audio';
import { createRandom } from '../dsp/random';
import { effectCatalogue } from '../catalogue';
import { readWav } from '../formats/wav/wav-read';
import { loopSource } from '../import/loop-source';
import { inMemory } from '../audio/recording';
import type { Delivery, Project } from '../project/schema';
import { renderContext } from '../render/library';
import { edited, sourceFor } from '../testing/project';
import { mono, residual, sine } from '../testing/signals';
import { createProject } from '../project/create';
import { renderItem } from './render-item';
import { manifestEntry, wavOf } from './write-item';
import { convertLoop, isLoop } from './loops';
import { planSound } from './plan';
import { startingDelivery } from '../project/deliveries/create-delivery';
import { checkFile } from './pre-flight';

const rate = 48_000;

/** Wind over the station: noise through a slow filter, so that neighbouring samples are close to each other. */
function wind(seconds: number): Float32Array {
  const random = createRandom(7);
  let slow = 0;
  return Float32Array.from({ length: seconds * rate }, () => (slow += 0.02 * (random.next() - 0.5) - 0.004 * slow));
}

/** A project with a loop that the loop doctor made, as the only layer of its sound. */
async function placedLoop() {
  const recording = mono(wind(4));
  let project = edited(createProject('loops', 'Halda loops'), 'addSources', { sources: [sourceFor('Wind', recording)] });
  const made = await loopSource(inMemory(recording), project.sources[0]!, { from: 0.5, to: 3.25, crossfade: 0.5 });
  project = edited(project, 'addSources', { sources: [made.source] });
  project = edited(project, 'addSound', { name: 'Wind bed' });
  project = edited(project, 'addLayer', { sound: project.sounds[0]!.id, source: project.sources[1]!.id, start: 0 });
  return { project, context: renderContext(project, new Map([[made.source.audio, made.audio]])), loop: made.audio };
}

function deliver(project: Project, context: Awaited<ReturnType<typeof placedLoop>>['context'], changes: Partial<Delivery> = {}) {
  const settings: Delivery = { ...project.deliveries[0]!, encoding: '32f', ...changes };
  const [item] = planSound(project, project.sounds[0]!, settings, effectCatalogue);
  const rendered = renderItem(item!, settings, context);
  const writing = { item: item!, rendered, delivery: settings, project, moment: { date: '2026-11-29', time: '12:00:00' } };
  const wav = wavOf(writing);
  const entry = manifestEntry(writing, wav);
  const { audio, details } = readWav(wav);
  return { item: item!, entry, details, audio, findings: rendered.findings };
}

/** The largest step from sample to sample: where the loop comes round, and within it. */
function steps(samples: Float32Array): { seam: number; body: number } {
  let body = 0;
  for (let i = 1; i < samples.length; i++) body = Math.max(body, Math.abs(samples[i]! - samples[i - 1]!));
  return { seam: Math.abs(samples[0]! - samples.at(-1)!), body };
}

describe('a loop from the loop doctor, placed and delivered', () => {
  it.each(['ring out', 'cut at the last clip', 'seamless loop'] as const)('keeps every sample of it, with the tail “%s”', async (tail) => {
    const { project, context, loop } = await placedLoop();
    const { audio, entry, details, findings } = deliver(project, context, { tail });
    expect(residual(loop.channels[0]!, audio.channels[0]!)).toBeLessThan(-120);
    expect(audio.channels[0]).toHaveLength(frameCount(loop));
    expect(steps(audio.channels[0]!).seam).toBeLessThanOrEqual(steps(audio.channels[0]!).body);
    expect(entry.loop).toEqual({ from: 0, to: frameCount(loop) });
    expect(details.loop).toEqual({ from: 0, to: frameCount(loop) });
    expect(findings).toEqual([]);
  });

  it.each([44_100, 96_000] as const)('comes round at %i Hz as it does within', async (sampleRate) => {
    const { project, context, loop } = await placedLoop();
    const { audio, entry, findings } = deliver(project, context, { sampleRate });
    expect(entry.frames).toBe(Math.round((frameCount(loop) * sampleRate) / rate));
    expect(entry.loop).toEqual({ from: 0, to: entry.frames });
    expect(steps(audio.channels[0]!).seam).toBeLessThanOrEqual(steps(audio.channels[0]!).body);
    expect(findings).toEqual([]);
  });

  it.each([-7, 5, 12, -19.3])('comes round as it does within at another speed: %d st', async (speed) => {
    const { project, context } = await placedLoop();
    const { id, layers } = project.sounds[0]!;
    const address = `layer/${layers[0]!.id}/clip/${layers[0]!.clips[0]!.id}/speed`;
    const paced = edited(project, 'setValues', { sound: id, values: { [address]: speed }, label: '' });
    const { item, audio, findings, entry } = deliver(paced, context);
    expect(item.loops).toBe('as it stands');
    // What noise does to its colour at twice the speed is its own; nothing leaps.
    expect(findings.filter(({ text }) => text.includes('leaps'))).toEqual([]);
    const { seam, body } = steps(audio.channels[0]!);
    expect(seam).toBeLessThanOrEqual(body);
    // Bent no less smoothly than within: the second difference across the seam is that of the sound itself.
    const samples = audio.channels[0]!;
    const bend = (a: number, b: number, c: number): number => Math.abs(a - 2 * b + c);
    let most = 0;
    for (let i = 1; i < samples.length - 1; i++) most = Math.max(most, bend(samples[i - 1]!, samples[i]!, samples[i + 1]!));
    expect(bend(samples.at(-2)!, samples.at(-1)!, samples[0]!)).toBeLessThanOrEqual(most);
    expect(bend(samples.at(-1)!, samples[0]!, samples[1]!)).toBeLessThanOrEqual(most);
    expect(entry.loop).toEqual({ from: 0, to: samples.length });
  });

  it('takes what a reverb rings on back to its beginning', async () => {
    const { project, context, loop } = await placedLoop();
    const sound = project.sounds[0]!.id;
    const roomy = edited(project, 'addEffect', { sound, owner: 'sound', effect: 'reverb' });
    const { audio, item, findings } = deliver(roomy, context);
    expect(item.loops).toBe('as it stands');
    expect(frameCount(audio)).toBe(frameCount(loop));
    expect(findings).toEqual([]);
  });

  it('is no loop any more once it is shortened, faded, moved, or has company of another length', async () => {
    const { project } = await placedLoop();
    const { id: sound, layers } = project.sounds[0]!;
    const clip = layers[0]!.clips[0]!.id;
    expect(isLoop(project.sounds[0]!, project)).toBe(true);
    const after = (changed: Project): boolean => isLoop(changed.sounds[0]!, changed);
    expect(after(edited(project, 'trimClips', { sound, side: 'end', to: [{ clip, time: 1.5 }] }))).toBe(false);
    expect(after(edited(project, 'moveClips', { sound, to: [{ clip, start: 0.2 }] }))).toBe(false);
    expect(after(edited(project, 'addLayer', { sound, source: project.sources[0]!.id, start: 0 }))).toBe(false);
    expect(after(edited(project, 'mend', { sound, remedy: 'fade ends' }))).toBe(false);
    // Its own length repeated is a loop again.
    const end = project.sources[1]!.frames / rate;
    const layer = layers[0]!.id;
    const twice = edited(project, 'addClip', { sound, layer, source: project.sources[1]!.id, start: end });
    expect(after(twice)).toBe(true);
  });

  it('is told when its seam can be heard', async () => {
    const { project, context } = await placedLoop();
    const sound = project.sounds[0]!.id;
    const clip = project.sounds[0]!.layers[0]!.clips[0]!.id;
    const cut = edited(project, 'trimClips', { sound, side: 'end', to: [{ clip, time: 1.5 }] });
    const { findings } = deliver(cut, context, { tail: 'seamless loop' });
    expect(findings.map(({ severity, text }) => [severity, text.split(':')[0]])).toEqual([
      ['fault', 'The loop can be heard to come round'],
    ]);
    expect(findings[0]!.remedies).toEqual(['open ends', 'ring out']);
    // One that is a loop as it stands is offered nothing that would do nothing.
    const { audio } = deliver(project, context);
    const leaping = {
      ...audio,
      channels: audio.channels.map((channel) => channel.map((sample, i) => (i < 4_800 ? sample + 0.5 : sample))),
    };
    expect(
      checkFile(leaping, measure(leaping), { item: { loops: 'as it stands' }, delivery: startingDelivery }).map(({ remedies }) => remedies),
    ).toContainEqual([]);
    expect(() => edited(project, 'mend', { sound, remedy: 'open ends' })).toThrow('No clip is faded');
  });
});

describe('converting a loop', () => {
  it('plays whole waves without a seam even where its length falls between two frames', () => {
    const frames = 4_801;
    const tone = Float32Array.from({ length: frames }, (_, i) => 0.5 * Math.sin((2 * Math.PI * 101 * i) / frames));
    const converted = convertLoop(mono(tone), 44_100).channels[0]!;
    const wanted = Float32Array.from(converted, (_, i) => 0.5 * Math.sin((2 * Math.PI * 101 * i) / converted.length));
    expect(converted).toHaveLength(Math.round((frames * 44_100) / 48_000));
    expect(residual(wanted, converted)).toBeLessThan(-90);
    expect(convertLoop(mono(sine(100, 0.1, rate, -6)), rate).sampleRate).toBe(rate);
  });
});
