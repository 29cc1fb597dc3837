import type { Seconds } from '../../units';
import type { Clock, FrameRate } from '../schema';

/** Frames per second as it is played and as it is counted, and the numbers left out at each minute but every tenth (SMPTE ST 12-1). */
const rates: Readonly<Record<FrameRate, { readonly exact: number; readonly counted: number; readonly dropped: number }>> = {
  '23.976': { exact: 24_000 / 1_001, counted: 24, dropped: 0 },
  '24': { exact: 24, counted: 24, dropped: 0 },
  '25': { exact: 25, counted: 25, dropped: 0 },
  '29.97': { exact: 30_000 / 1_001, counted: 30, dropped: 0 },
  '29.97 drop': { exact: 30_000 / 1_001, counted: 30, dropped: 2 },
  '30': { exact: 30, counted: 30, dropped: 0 },
  '48': { exact: 48, counted: 48, dropped: 0 },
  '50': { exact: 50, counted: 50, dropped: 0 },
  '59.94': { exact: 60_000 / 1_001, counted: 60, dropped: 0 },
  '59.94 drop': { exact: 60_000 / 1_001, counted: 60, dropped: 4 },
  '60': { exact: 60, counted: 60, dropped: 0 },
};

/** Frames that are played in a second. */
export function framesPerSecond(rate: FrameRate): number {
  return rates[rate].exact;
}

/** The frame shown at a time; a frame begins at its own time. */
export function frameAt(time: Seconds, rate: FrameRate): number {
  return Math.floor(time * rates[rate].exact + 1e-6);
}

/** When a frame begins. */
export function frameTime(frame: number, rate: FrameRate): Seconds {
  return frame / rates[rate].exact;
}

/** The frame rate whose count is nearest to a measured one. */
export function nearestFrameRate(framesASecond: number): FrameRate {
  const known = (Object.keys(rates) as FrameRate[]).filter((rate) => rates[rate].dropped === 0);
  return known.reduce((best, rate) =>
    Math.abs(rates[rate].exact - framesASecond) < Math.abs(rates[best].exact - framesASecond) ? rate : best,
  );
}

const two = (value: number): string => String(value).padStart(2, '0');

/** Frame number as hh:mm:ss:ff, with a semicolon before the frames where numbers are dropped. */
export function formatFrame(frame: number, rate: FrameRate): string {
  const { counted, dropped } = rates[rate];
  let number = frame;
  if (dropped > 0) {
    const perMinute = counted * 60 - dropped;
    const perTen = perMinute * 10 + dropped;
    const tens = Math.floor(frame / perTen);
    const rest = frame % perTen;
    number += dropped * 9 * tens + (rest > dropped ? dropped * Math.floor((rest - dropped) / perMinute) : 0);
  }
  const seconds = Math.floor(number / counted);
  const parts = [Math.floor(seconds / 3_600) % 24, Math.floor(seconds / 60) % 60, seconds % 60].map(two).join(':');
  return `${parts}${dropped > 0 ? ';' : ':'}${two(number % counted)}`;
}

/** Timecode of a moment on the time axis. */
export function formatTimecode(time: Seconds, clock: Clock): string {
  return formatFrame(frameAt(Math.max(0, time), clock.frameRate) + clock.startFrame, clock.frameRate);
}

/** Reads hh:mm:ss:ff (semicolons and dots count as colons) as a frame number; undefined when it is none or a number that is dropped. */
export function parseFrame(text: string, rate: FrameRate): number | undefined {
  const match = /^(\d{1,2})[:;.](\d{1,2})[:;.](\d{1,2})[:;.](\d{1,2})$/.exec(text.trim());
  if (!match) return undefined;
  const [hours, minutes, seconds, frames] = match.slice(1).map(Number) as [number, number, number, number];
  const { counted, dropped } = rates[rate];
  if (hours > 23 || minutes > 59 || seconds > 59 || frames >= counted) return undefined;
  const isDropped = dropped > 0 && seconds === 0 && minutes % 10 !== 0 && frames < dropped;
  if (isDropped) return undefined;
  const allMinutes = hours * 60 + minutes;
  return (allMinutes * 60 + seconds) * counted + frames - dropped * (allMinutes - Math.floor(allMinutes / 10));
}
