import { mono } from '../../testing/signals';
import { GuidePlayer } from './guide-player';

const ramp = Float32Array.from({ length: 5_000 }, (_, i) => i / 5_000);
const place = { start: 1_000, repeats: false, gain: 1 };

function heard(player: GuidePlayer, position: number, frames: number): Float32Array {
  return player.at(position, frames).channels[0]!.slice(0, frames);
}

describe('a guide beside a sound', () => {
  it('lies where it is put, in the channels of the sound, and is silent before and behind', () => {
    const player = new GuidePlayer(mono(ramp), 'stereo', place);
    const from900 = heard(player, 900, 200);
    expect([...from900.subarray(0, 101)]).toEqual(Array<number>(101).fill(0));
    expect(from900[199]).toBeCloseTo(99 / 5_000, 6);
    expect(player.channels).toBe(2);
    const end = new GuidePlayer(mono(ramp), 'mono', place);
    expect(heard(end, 5_999, 2)[0]).toBeCloseTo(4_999 / 5_000, 6);
    expect(heard(end, 6_000, 100).every((sample) => sample === 0)).toBe(true);
  });

  it('begins before time 0 when it is put there, and repeats when it shall', () => {
    expect(heard(new GuidePlayer(mono(ramp), 'mono', { ...place, start: -300 }), 0, 1)[0]).toBeCloseTo(300 / 5_000, 6);
    const repeating = new GuidePlayer(mono(ramp), 'mono', { ...place, repeats: true });
    expect(heard(repeating, 6_000 + 40, 1)[0]).toBeCloseTo(40 / 5_000, 6);
    expect(heard(new GuidePlayer(mono(ramp), 'mono', { ...place, repeats: true }), 0, 1)[0]).toBe(0);
  });

  it('goes over to another place and another level without a step', () => {
    const level = new Float32Array(5_000).fill(0.8);
    level.fill(-0.8, 2_500);
    const player = new GuidePlayer(mono(level), 'mono', { ...place, start: 0 });
    heard(player, 0, 480);
    const jumped = [...heard(player, 3_000, 960)];
    const steps = jumped.map((sample, i) => Math.abs(sample - (jumped[i - 1] ?? 0.8)));
    expect(Math.max(...steps)).toBeLessThan(0.01);
    expect(jumped.at(-1)).toBeCloseTo(-0.8, 6);
    player.set({ ...place, start: 0, gain: 0 });
    const silenced = [...heard(player, 3_960, 960)];
    expect(Math.abs(silenced[0]! + 0.8)).toBeLessThan(0.01);
    expect(silenced.at(-1)).toBeCloseTo(0, 6);
  });

  it('runs by itself round a loop', () => {
    const player = new GuidePlayer(mono(ramp), 'mono', { ...place, start: 0 });
    player.loop = { from: 100, to: 1_000 };
    player.seek(900);
    const into = [new Float32Array(1_024)];
    expect(player.render(into, 480)).toBe(100);
    expect(player.render(into, 480)).toBe(480);
    expect(player.position).toBe(580);
  });
});
