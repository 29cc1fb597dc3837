import { measure } from '../analysis/loudness/measure';
import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import { effectCatalogue } from '../catalogue';
import type { Remedy } from '../project/edits';
import type { Project } from '../project/schema';
import { edited, projectWith } from '../testing/project';
import { amplitudeAt, mono, noise, sine } from '../testing/signals';
import { renderItem } from './render-item';
import { planSound } from './plan';
import { trimSilence } from './pre-flight';

const rate = 48_000;
const silence = (seconds: number): number[] => new Array<number>(seconds * rate).fill(0);

function check(audio: Audio) {
  const { project, context } = projectWith({ Slab: audio });
  const sound = project.sounds[0]!.id;
  const deliver = (from: Project) => {
    const [item] = planSound(from, from.sounds[0]!, from.deliveries[0]!, effectCatalogue);
    return renderItem(item!, from.deliveries[0]!, context);
  };
  const mended = (remedy: Remedy, decibels?: number) =>
    deliver(edited(project, 'mend', { sound, remedy, delivery: 'delivery-0', ...(decibels !== undefined && { decibels }) }));
  return { before: deliver(project), mended };
}

const texts = ({ findings }: { findings: readonly { text: string }[] }): string[] => findings.map(({ text }) => text.split(/[:;]/)[0]!);

describe('pre-flight and its remedies', () => {
  it('brings what clips below the ceiling, by level or by a limiter', () => {
    const { before, mended } = check(mono(noise(0.5 * rate, 3, 6)));
    expect(before.findings[0]).toMatchObject({ severity: 'fault', remedies: ['change level', 'limit'] });
    const turned = mended('change level', -1 - before.measured.truePeakDbtp);
    expect(turned.findings).toEqual([]);
    expect(turned.measured.truePeakDbtp).toBeCloseTo(-1, 1);
    const limited = mended('limit', -1);
    expect(limited.findings).toEqual([]);
    expect(limited.measured.truePeakDbtp).toBeLessThanOrEqual(-0.95);
    expect(limited.measured.integratedLufs).toBeGreaterThan(turned.measured.integratedLufs);
  });

  it.each([30, -30])('limits what comes out, wherever the fader of the sound stands (%i dB)', (gain) => {
    const { project, context } = projectWith({ Slab: mono(noise(0.5 * rate, 3, gain < 0 ? 34 : 0)) });
    const sound = project.sounds[0]!.id;
    const turned = edited(project, 'setValues', { sound, values: { 'sound/gain': gain }, label: 'Gain' });
    const limited = edited(turned, 'mend', { sound, remedy: 'limit', decibels: -1 });
    const deliver = (from: Project) =>
      renderItem(planSound(from, from.sounds[0]!, from.deliveries[0]!, effectCatalogue)[0]!, from.deliveries[0]!, context);
    expect(deliver(turned).measured.truePeakDbtp).toBeGreaterThan(0);
    expect(deliver(limited).measured.truePeakDbtp).toBeLessThan(-0.95);
    // Once more changes nothing for the worse.
    const again = edited(limited, 'mend', { sound, remedy: 'limit', decibels: -1 });
    expect(deliver(again).measured.truePeakDbtp).toBeLessThan(-0.95);
  });

  it('brings to a loudness within a tenth of a unit', () => {
    const { before, mended } = check(mono(noise(2 * rate, 3, -20)));
    expect(mended('change level', -23 - before.measured.integratedLufs).measured.integratedLufs).toBeCloseTo(-23, 1);
  });

  it('tells direct current, and blocks it', () => {
    const tone = sine(400, 1, rate, -20);
    const { before, mended } = check(mono(tone.map((sample) => sample + 0.12)));
    expect(texts(before)).toContain('The wave does not swing around zero');
    const blocked = mended('block direct current');
    // Where the current begins, the filter takes a moment; what the tone is stays.
    expect(Math.abs(measure(part(blocked.audio, 0.3, 0.9)).dcOffset)).toBeLessThan(1e-4);
    expect(amplitudeAt(blocked.audio.channels[0]!, 400, rate, 0.3 * rate, 0.9 * rate)).toBeCloseTo(0.1, 2);
    expect(texts(check(mono(tone)).before)).not.toContain('The wave does not swing around zero');
  });

  it('tells ends that click, and fades them', () => {
    const cosine = sine(60, 0.5, rate, -6, Math.PI / 2);
    const { before, mended } = check(mono(cosine));
    expect(before.findings.map(({ remedies }) => remedies)).toEqual([['fade ends']]);
    expect(before.findings[0]!.text).toContain('begins at −6 dB');
    const faded = mended('fade ends');
    expect(faded.findings).toEqual([]);
    expect(Math.abs(faded.audio.channels[0]![0]!)).toBeLessThan(0.01);
  });

  it('leaves out silence at both ends, if asked, and nothing of what sounds', () => {
    const click = [...silence(0.4), ...sine(1_000, 0.2, rate, -6), ...silence(0.9)];
    const { before, mended } = check(mono(Float32Array.from(click)));
    expect(texts(before)).toHaveLength(2);
    const asked = mended('trim');
    expect(asked.findings).toEqual([]);
    // A sine begins at nothing.
    expect(Math.abs(asked.start - 0.398 * rate)).toBeLessThan(3);
    expect(Math.abs(frameCount(asked.audio) - (0.2 + 0.002 + 0.05) * rate)).toBeLessThan(3);
    expect(amplitudeAt(asked.audio.channels[0]!, 1_000, rate, 480, 8_000)).toBeCloseTo(0.5012, 3);
  });

  it('leaves a silent file whole', () => {
    const silent = mono(new Float32Array(100));
    expect(trimSilence(silent)).toEqual({ audio: silent, lead: 0 });
  });
});

function part(audio: Audio, from: number, to: number): Audio {
  return { ...audio, channels: audio.channels.map((channel) => channel.slice(from * rate, to * rate)) };
}
