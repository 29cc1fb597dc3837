import { maxBlock } from '../../dsp/block';
import { Glide } from '../../dsp/glide';
import { hertz, semitones } from '../../project/parameters';
import { StreamedFormants, streamedFormantsLatency } from '../../stretch/streamed-formants';
import { semitonesToRatio } from '../../units';
import { defineEffect } from '../effect';

const glideFrames = 512;

/** Moves the spectral envelope without the partials (see `FormantFrames`), as clips do, while it plays. */
export const formantShifter = defineEffect({
  id: 'formant-shifter',
  label: 'Formant shifter',
  family: 'Pitch',
  channels: 'linked',
  purpose: 'Makes what sounds bigger or smaller: what resonates moves, pitch and time stay.',
  parameters: {
    formant: semitones({ label: 'Formants', min: -24, max: 24, default: 0 }),
    voice: { ...hertz({ label: 'Pitch of the sound', min: 60, max: 800, default: 180 }), builds: true, fixed: true },
  },
  presets: [
    { name: 'Bigger', values: { formant: -5 } },
    { name: 'Smaller', values: { formant: 6, voice: 240 } },
    { name: 'Cavern of a chest', values: { formant: -12, voice: 110 } },
  ],
  latency: () => streamedFormantsLatency,
  tail: () => 2 * streamedFormantsLatency,
  create: ({ sampleRate, channels, values }) => {
    const formants = new StreamedFormants(channels, sampleRate, values.voice);
    const formantNow = new Glide(glideFrames);
    const ratios = new Float64Array(maxBlock);
    return {
      reset: () => {
        formants.reset();
        formantNow.reset();
      },
      process(block, { formant }) {
        formantNow.aim(formant);
        for (let i = 0; i < block.frames; i++) ratios[i] = semitonesToRatio(formantNow.next());
        formants.process(block, ratios);
      },
    };
  },
});
