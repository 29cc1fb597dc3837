import { EchoLine } from '../../dsp/echo-line';
import { Glide } from '../../dsp/glide';
import { smoothing } from '../../dsp/filters/simple-filters';
import { hertz, noteLength, seconds, share, toggle } from '../../project/parameters';
import type { Frames } from '../../units';
import { gainToDecibels } from '../../units';
import type { Block } from '../../dsp/block';
import { maxBlock } from '../../dsp/block';
import { defineEffect } from '../effect';
import { linearAxis } from '../effect-picture';

const glideFrames = 512;
const longest = 4;
/** Echoes that are drawn: so many at most, and none below this gain. */
const mostEchoes = 40;
const echoFloor = 1e-3;
/** Below this, echoes melt into a tone. */
const pitched = 0.02;
/** How quickly a changed time is reached; on the way pitch bends, as it does on tape. */
const timeLag = 0.12;

/** Echoes with filters in their feedback; changed times glide, so that they bend pitch and do not click. */
export const delay = defineEffect({
  id: 'delay',
  label: 'Delay',
  family: 'Time and space',
  channels: 'pairs',
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
  picture: ({ time, feedback, crossed, offset, echo }) => {
    const shown = Math.min(
      mostEchoes,
      feedback > 0.001 ? 1 + Math.floor(Math.log(echoFloor / Math.max(echoFloor, echo)) / Math.log(feedback)) : 1,
    );
    const left = time + Math.max(0, -offset);
    const right = time + Math.max(0, offset);
    const stems = Array.from({ length: Math.max(1, shown) }, (_, n) => {
      const height = Math.max(-60, gainToDecibels(echo * feedback ** n));
      const onLeft = { role: 'main' as const, at: (n + 1) * left, height };
      const onRight = { role: 'other side' as const, at: (n + 1) * right, height };
      if (!crossed) return [onLeft, onRight];
      // Crossed echoes begin on the left and go to and fro.
      const at = Math.ceil((n + 1) / 2) * left + Math.floor((n + 1) / 2) * right;
      return [{ ...(n % 2 ? onRight : onLeft), at }];
    }).flat();
    return {
      title: crossed ? 'Echoes to and fro: left, right' : 'Echoes: left, right',
      x: linearAxis('s', 0, Math.max(...stems.map(({ at }) => at)) * 1.08),
      y: linearAxis('dB', -60, 0),
      curves: [],
      stems: [{ role: 'before', at: 0, height: 0 }, ...stems],
    };
  },
  latency: () => 0,
  tail: ({ time, feedback, offset, lowCut, highCut }, sampleRate) => {
    const repeats = feedback > 0.001 ? Math.log(1e-3) / Math.log(feedback) : 0;
    // Each of the two filters falls by 60 dB in 1.1 of its periods.
    const ringing = 1.1 / lowCut + 1.1 / highCut;
    return Math.ceil(((time + Math.abs(offset)) * (1 + repeats) + ringing) * sampleRate);
  },
  create: ({ sampleRate, channels }) => {
    const lines = Array.from({ length: channels }, () => new EchoLine(Math.ceil((longest + 0.2) * sampleRate)));
    const feedbackNow = new Glide(glideFrames);
    const echoNow = new Glide(glideFrames);
    const times = new Float64Array(channels).fill(NaN);
    const heard = new Float64Array(channels);
    const keep = smoothing(timeLag, sampleRate);
    const backs = new Float64Array(maxBlock);
    const levels = new Float64Array(maxBlock);
    const wanted = new Float64Array(channels);
    /** The next echo of a channel, whose time may be on its way to the wanted one. */
    const next = (c: number): number => {
      const target = wanted[c]!;
      const away = times[c]! - target;
      const now = Math.abs(away) < 1e-4 ? target : target + away * keep;
      times[c] = now;
      return lines[c]!.echo(now);
    };
    const straight = (samples: Float32Array, frames: Frames, c: number): void => {
      const line = lines[c]!;
      if (times[c] === wanted[c]) {
        line.process(samples, frames, wanted[c]!, backs, levels);
        return;
      }
      for (let i = 0; i < frames; i++) {
        const echo = next(c);
        line.write(samples[i]! + echo * backs[i]!);
        samples[i]! += echo * levels[i]!;
      }
    };
    const toAndFro = (block: Block): void => {
      for (let i = 0; i < block.frames; i++) {
        for (let c = 0; c < channels; c++) heard[c] = next(c);
        for (let c = 0; c < channels; c++) {
          const from = c % 2 ? c - 1 : Math.min(channels - 1, c + 1);
          // Crossed echoes begin on the left alone, so that they go to and fro.
          lines[c]!.write((c % 2 ? 0 : block.channels[c]![i]!) + heard[from]! * backs[i]!);
        }
        for (let c = 0; c < channels; c++) block.channels[c]![i]! += heard[c]! * levels[i]!;
      }
    };
    return {
      reset: () => {
        times.fill(NaN);
        feedbackNow.reset();
        echoNow.reset();
        for (const line of lines) line.reset();
      },
      process(block, { time, feedback, lowCut, highCut, crossed, offset, echo }) {
        feedbackNow.aim(feedback);
        echoNow.aim(echo);
        for (const line of lines) line.tune(highCut >= 19_999 ? sampleRate : highCut, lowCut > 20 ? lowCut : undefined, sampleRate);
        feedbackNow.fill(backs, block.frames);
        echoNow.fill(levels, block.frames);
        for (let c = 0; c < channels; c++) {
          const lag = Math.max(2, (time + (c % 2 ? Math.max(0, offset) : Math.max(0, -offset))) * sampleRate);
          // Only where an echo is heard as a pitch does a part of a frame matter; whole frames take nothing from the highs.
          wanted[c] = lag > pitched * sampleRate ? Math.round(lag) : lag;
          if (Number.isNaN(times[c])) times[c] = wanted[c]!;
        }
        if (crossed && channels > 1) toAndFro(block);
        else for (let c = 0; c < channels; c++) straight(block.channels[c]!, block.frames, c);
      },
    };
  },
});
