import type { Block } from '../../dsp/block';
import { maxBlock } from '../../dsp/block';
import { glides } from '../../dsp/glide';
import { SampleHistory } from '../../dsp/sample-history';
import { splicedLatency, SplicedShifter } from '../../dsp/spliced-shifter';
import { choice, semitones, toggle } from '../../project/parameters';
import { StreamedFormants, streamedFormantsLatency } from '../../stretch/streamed-formants';
import { StreamedPitch, streamedPitchLatency } from '../../stretch/streamed-pitch';
import type { Frames, Hertz } from '../../units';
import { semitonesToRatio } from '../../units';
import { defineEffect } from '../effect';

const glideFrames = 512;
const modes = ['best', 'quick'] as const;

/** Moves the pitch of a block in place, by a ratio for each of its frames. */
interface Shifter {
  process(block: Block, ratios: Float64Array): void;
  reset(): void;
}

/** As clips have it, while it plays: a phase vocoder, or splices in the time domain (see `StreamedPitch` and `SplicedShifter`). */
export const pitchShifter = defineEffect({
  id: 'pitch-shifter',
  label: 'Pitch shifter',
  family: 'Pitch',
  channels: 'linked',
  purpose: 'Moves pitch and leaves time, up to three octaves; formants go along or stay.',
  parameters: {
    pitch: semitones({ label: 'Pitch', min: -36, max: 36, default: 0 }),
    mode: { ...choice('Mode', modes, 'best'), builds: true, fixed: true },
    keepFormants: { ...toggle('Keep formants', false), builds: true, fixed: true },
    formant: { ...semitones({ label: 'Formants', min: -24, max: 24, default: 0 }), needs: 'keepFormants' },
  },
  presets: [
    { name: 'An octave down', values: { pitch: -12 } },
    { name: 'Bigger throat', values: { pitch: -5, keepFormants: true, formant: -4 } },
    { name: 'Small creature', values: { pitch: 9, keepFormants: true, formant: 3 } },
    { name: 'At once', values: { pitch: -7, mode: 'quick' } },
  ],
  latency: latencyOf,
  tail: (values, sampleRate) => latencyOf(values, sampleRate) + 8_192,
  create: ({ sampleRate, channels, values }) => {
    const shifter: Shifter = values.mode === 'quick' ? quickShifter(channels, sampleRate) : new StreamedPitch(channels);
    const formants = values.keepFormants ? new StreamedFormants(channels, sampleRate) : undefined;
    const now = glides(glideFrames, 'pitch', 'formant');
    const ratios = new Float64Array(maxBlock);
    const shapes = new Float64Array(maxBlock);
    return {
      reset: () => {
        for (const part of [shifter, formants, ...Object.values(now)]) part?.reset();
      },
      process(block, { pitch, formant }) {
        now.pitch.aim(pitch);
        now.formant.aim(formant);
        for (let i = 0; i < block.frames; i++) {
          const moved = now.pitch.next();
          ratios[i] = semitonesToRatio(moved);
          // Before the pitch moves them along, formants go back by as much.
          shapes[i] = semitonesToRatio(now.formant.next() - moved);
        }
        formants?.process(block, shapes);
        shifter.process(block, ratios);
      },
    };
  },
});

function latencyOf({ mode, keepFormants }: { readonly mode: string; readonly keepFormants: boolean }, sampleRate: Hertz): Frames {
  return (mode === 'quick' ? splicedLatency(sampleRate) : streamedPitchLatency) + (keepFormants ? streamedFormantsLatency : 0);
}

function quickShifter(channels: number, sampleRate: Hertz): Shifter {
  const input = new SampleHistory(channels, SplicedShifter.keep(sampleRate) + maxBlock);
  const shifter = new SplicedShifter(input, sampleRate);
  return {
    reset: () => {
      input.reset();
      shifter.reset();
    },
    process(block, ratios) {
      input.write(block.channels, block.frames);
      for (let i = 0, end = 0; i < block.frames; i = end) {
        const ratio = ratios[i]!;
        while (end < block.frames && ratios[end] === ratio) end++;
        shifter.read(ratio, end - i, block.channels, i);
      }
    },
  };
}
