import fc from 'fast-check';
import { frameRates } from '../schema';
import { formatFrame, formatTimecode, frameAt, framesPerSecond, frameTime, nearestFrameRate, parseFrame } from './timecode';

describe('timecode', () => {
  it('counts frames without dropping', () => {
    expect(formatFrame(0, '25')).toBe('00:00:00:00');
    expect(formatFrame(25 * 3_600 + 24, '25')).toBe('01:00:00:24');
    // At 29.97 without dropping, an hour on the clock is 3.6 s short.
    expect(formatTimecode(3_600, { frameRate: '29.97', startFrame: 0 })).toBe('00:59:56:12');
  });

  it('drops two numbers a minute, but not every tenth (SMPTE ST 12-1)', () => {
    expect(formatFrame(1_799, '29.97 drop')).toBe('00:00:59;29');
    expect(formatFrame(1_800, '29.97 drop')).toBe('00:01:00;02');
    expect(formatFrame(17_981, '29.97 drop')).toBe('00:09:59;29');
    expect(formatFrame(17_982, '29.97 drop')).toBe('00:10:00;00');
    expect(formatFrame(107_892, '29.97 drop')).toBe('01:00:00;00');
    expect(formatFrame(3_600, '59.94 drop')).toBe('00:01:00;04');
  });

  it('reads what it writes, at every rate', () => {
    fc.assert(
      fc.property(fc.constantFrom(...frameRates), fc.nat(24 * 3_600 * 23), (rate, frame) => {
        expect(parseFrame(formatFrame(frame, rate), rate)).toBe(frame);
      }),
    );
  });

  it('refuses what is no timecode, and numbers that are dropped', () => {
    for (const text of ['', 'abc', '1:2:3', '00:61:00:00', '00:00:00:25', '00:01:00:00;']) expect(parseFrame(text, '25')).toBeUndefined();
    expect(parseFrame('00:01:00;00', '29.97 drop')).toBeUndefined();
    expect(parseFrame('00:10:00;00', '29.97 drop')).toBe(17_982);
  });

  it('finds frames by time and time by frames', () => {
    fc.assert(
      fc.property(fc.constantFrom(...frameRates), fc.nat(500_000), (rate, frame) => {
        expect(frameAt(frameTime(frame, rate), rate)).toBe(frame);
        expect(frameAt(frameTime(frame, rate) - 0.001, rate)).toBe(frame - 1);
      }),
    );
    expect(framesPerSecond('23.976')).toBeCloseTo(23.976, 3);
    expect(nearestFrameRate(29.969)).toBe('29.97');
    expect(nearestFrameRate(24.99)).toBe('25');
  });
});
