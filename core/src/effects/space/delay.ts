import { DelayTap } from '../../dsp/delay-tap';
import { Glide } from '../../dsp/glide';
import { OnePole, smoothing } from '../../dsp/simple-filters';
import { hertz, noteLength, seconds, share, toggle } from '../../project/parameters';
import { defineEffect } from '../effect';

const glideFrames = 512;
const longest = 4;
/** How quickly a changed time is reached; on the way pitch bends, as it does on tape. */
const timeLag = 0.12;

/** Echoes with filters in their feedback; changed times glide, so that they bend pitch and do not click. */
export const delay = defineEffect({
  id: 'delay',
  label: 'Delay',
  family: 'Time and space',
  purpose: 'Repeats the sound, each time a little softer and duller.',
  parameters: {
    time: { ...seconds({ label: 'Time', min: 0.001, max: longest, default: 0.28 }), counted: 'note' },
    note: noteLength('Time in'),
    feedback: share({ label: 'Feedback', max: 0.98, default: 0.35 }),
    lowCut: hertz({ label: 'Low cut', min: 20, max: 2_000, default: 120 }),
    highCut: hertz({ label: 'High cut', min: 500, max: 20_000, default: 5_500 }),
    crossed: toggle('From side to side', false),
    offset: { ...seconds({ label: 'Right later by', min: -0.1, max: 0.1, default: 0 }), scale: 'linear' },
    echo: share({ label: 'Echo', default: 0.4 }),
  },
  presets: [
    { name: 'Canyon', values: { time: 0.62, feedback: 0.5, highCut: 2_800, echo: 0.35 } },
    { name: 'Slap', values: { time: 0.09, feedback: 0.05, echo: 0.5 } },
    { name: 'Dotted eighths', values: { note: '1/8 dotted', feedback: 0.45, highCut: 4_000 } },
    { name: 'To and fro', values: { time: 0.2, feedback: 0.6, crossed: true, highCut: 7_000 } },
  ],
  latency: () => 0,
  tail: ({ time, feedback, offset }, sampleRate) => {
    const repeats = feedback > 0.001 ? Math.log(1e-3) / Math.log(feedback) : 0;
    return Math.ceil((time + Math.abs(offset)) * (1 + repeats) * sampleRate);
  },
  create: ({ sampleRate, channels }) => {
    const parts = Array.from({ length: channels }, () => ({
      line: new DelayTap(Math.ceil((longest + 0.2) * sampleRate)),
      low: new OnePole(),
      high: new OnePole(),
    }));
    const feedbackNow = new Glide(glideFrames);
    const echoNow = new Glide(glideFrames);
    const times = new Float64Array(channels).fill(NaN);
    const heard = new Float64Array(channels);
    const keep = smoothing(timeLag, sampleRate);
    return {
      reset: () => {
        times.fill(NaN);
        feedbackNow.reset();
        echoNow.reset();
        for (const { line, low, high } of parts) for (const part of [line, low, high]) part.reset();
      },
      process(block, { time, feedback, lowCut, highCut, crossed, offset, echo }) {
        feedbackNow.aim(feedback);
        echoNow.aim(echo);
        for (const { low, high } of parts) {
          low.tune(lowCut, sampleRate);
          high.tune(highCut >= 19_999 ? sampleRate : highCut, sampleRate);
        }
        for (let i = 0; i < block.frames; i++) {
          const back = feedbackNow.next();
          const level = echoNow.next();
          for (let c = 0; c < channels; c++) {
            const wanted = Math.max(2, (time + (c % 2 ? Math.max(0, offset) : Math.max(0, -offset))) * sampleRate);
            const before = times[c]!;
            times[c] = Number.isNaN(before) || Math.abs(before - wanted) < 1e-4 ? wanted : wanted + (before - wanted) * keep;
            const { line, low, high } = parts[c]!;
            // What is read before the write lies one frame further back.
            const late = high.low(line.read(times[c]! - 1));
            heard[c] = lowCut > 20 ? low.high(late) : late;
          }
          for (let c = 0; c < channels; c++) {
            const samples = block.channels[c]!;
            const from = crossed && channels > 1 ? (c % 2 ? c - 1 : Math.min(channels - 1, c + 1)) : c;
            // Crossed echoes begin on the left alone, so that they go to and fro.
            const fed = crossed && channels > 1 && c % 2 ? 0 : samples[i]!;
            const into = fed + heard[from]! * back;
            parts[c]!.line.write(Math.abs(into) < 1e-20 ? 0 : into);
          }
          for (let c = 0; c < channels; c++) block.channels[c]![i]! += heard[c]! * level;
        }
      },
    };
  },
});
