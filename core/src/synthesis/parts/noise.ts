import type { Random } from '../../dsp/random';
import { createRandom } from '../../dsp/random';
import { WhiteNoise } from '../../dsp/white-noise';
import { choice, decibels, hertz, share } from '../../project/parameters';
import type { Frames } from '../../units';
import { commonParameters } from '../common-parameters';
import { definePart } from '../define-part';
import { voiceStep } from '../part';
import type { VoiceFilterKind } from '../voice-filter';
import { VoiceFilter } from '../voice-filter';
import { bandGain, NoiseTilt, steadyLevel } from './coloured-noise';

const textures = ['steady', 'band', 'smooth', 'dust', 'crackle'] as const;
const sloped = { of: 'texture', values: ['steady', 'dust', 'crackle'] } as const;
const pitched = { of: 'texture', values: ['band', 'smooth'] } as const;
const thrown = { of: 'texture', values: ['dust', 'crackle'] } as const;
const bandPass: VoiceFilterKind = 'band-pass';
/** Makes the power of uniform numbers from -1 to 1 one. */
const unitPower = Math.sqrt(3);

/** Random sound: steady with a slope, a band around the note, a smooth wander whose pace follows the note, single grains of dust, or crackle. */
export const noise = definePart({
  id: 'noise',
  label: 'Noise',
  purpose: 'Sound without a pitch of its own: wind, hiss, rumble, electric crackle, a riser.',
  own: {
    texture: { ...choice('Texture', textures, 'steady'), builds: true },
    slope: { ...decibels({ label: 'Slope per octave', min: -12, max: 6, default: -3 }), needs: sloped },
    width: { ...share({ label: 'Width', min: 0.01, max: 1, default: 0.3 }), needs: { of: 'texture', values: ['band'] } },
    density: { ...hertz({ label: 'Grains a second', min: 0.1, max: 20_000, default: 40 }), needs: thrown },
    uneven: { ...share({ label: 'Uneven', default: 0.5 }), needs: thrown },
    // Without a pitch there is nothing to tune.
    follows: { ...commonParameters.follows, needs: pitched },
    tuning: { ...commonParameters.tuning, needs: pitched },
    apart: { ...share({ label: 'Apart', default: 0.5 }), builds: true },
  },
  channels: ({ apart }) => (apart > 0 ? 2 : 1),
  createSource({ sampleRate, values: { texture, apart } }) {
    const channels = apart > 0 ? 2 : 1;
    let random: Random = createRandom(0);
    const tilts = Array.from({ length: channels }, () => new NoiseTilt(sampleRate));
    const bands = Array.from({ length: channels }, () => new VoiceFilter(bandPass, sampleRate));
    // Both sides share a part of what they hear, so that the middle does not fall apart.
    const own = Math.sqrt(apart);
    const shared = Math.sqrt(1 - apart);
    /** Of the smooth wander: where it is between two values, and the values around it. */
    const wander = Array.from({ length: channels }, () => new Float64Array(4));
    let place = 0;
    let rate = 0;
    let rateStep = 0;
    /** Of crackle: what is left of its last grain. */
    const ring = new Float64Array(channels);
    let density = 0;
    let uneven = 0;
    let level = 1;

    const whites = Array.from({ length: channels + 1 }, () => new WhiteNoise());
    const common = new Float64Array(voiceStep);
    const into: Float64Array[] = [];
    /** White noise of some power. */
    const fillWhite = (into: readonly Float64Array[], from: Frames, to: Frames, power: number): void => {
      if (channels === 1) {
        whites[0]!.fill(into[0]!, from, to, power * unitPower);
        return;
      }
      whites[2]!.fill(common, from, to, power * unitPower);
      for (let c = 0; c < channels; c++) {
        const samples = into[c]!;
        whites[c]!.fill(samples, from, to, power * unitPower);
        for (let i = from; i < to; i++) samples[i] = own * samples[i]! + shared * common[i]!;
      }
    };
    const fillSmooth = (into: readonly Float64Array[], from: Frames, to: Frames): void => {
      for (let i = from; i < to; i++) {
        place += rate;
        rate += rateStep;
        while (place >= 1) {
          place -= 1;
          const common = 2 * random.next() - 1;
          for (let c = 0; c < channels; c++) {
            wander[c]!.copyWithin(0, 1);
            wander[c]![3] = channels === 1 ? common : shared * common + own * (2 * random.next() - 1);
          }
        }
        for (let c = 0; c < channels; c++) into[c]![i] = between(wander[c]!, place);
      }
    };
    const fillGrains = (into: readonly Float64Array[], from: Frames, to: Frames, loudness: number): void => {
      const chance = Math.min(1, density / sampleRate);
      const kept = texture === 'crackle' ? Math.exp(-1 / (0.0004 * sampleRate)) : 0;
      for (let i = from; i < to; i++) {
        const falls = random.next() < chance;
        // Few are loud where they are uneven.
        const size = falls ? loudness * Math.pow(random.next(), 6 * uneven) * (random.next() < 0.5 ? -1 : 1) : 0;
        const side = falls ? random.next() * 2 - 1 : 0;
        for (let c = 0; c < channels; c++) {
          const grain = channels === 1 ? size : size * Math.sqrt(Math.max(0, 1 + (c === 0 ? -1 : 1) * side * apart));
          ring[c] = ring[c]! * kept + (texture === 'crackle' ? Math.abs(grain) : grain);
          into[c]![i] = texture === 'crackle' ? ring[c]! * (2 * random.next() - 1) * unitPower : ring[c]!;
        }
      }
    };
    return {
      start(note, values, frequency) {
        ({ random } = note);
        for (const white of whites) white.seed(random.next() * 2 ** 32);
        for (const tilt of tilts) tilt.reset();
        for (const band of bands) band.reset();
        ring.fill(0);
        place = 0;
        for (const values of wander) for (let i = 0; i < 4; i++) values[i] = 2 * random.next() - 1;
        rate = Math.min(1, (2 * frequency) / sampleRate);
        this.aim(values, frequency, 0);
      },
      aim(values, frequency, frames) {
        ({ density, uneven } = values);
        const next = Math.min(1, (2 * frequency) / sampleRate);
        rateStep = frames > 0 ? (next - rate) / frames : 0;
        for (const tilt of tilts) tilt.tilt(values.slope);
        // The narrower the band, the more it is raised: its level stays.
        const resonance = 1 - values.width;
        for (const band of bands) band.aim(frequency, resonance, 1, frames);
        level = texture === 'band' ? bandGain(frequency, resonance, sampleRate) : 1;
      },
      render({ left, right }, from, to) {
        into[0] = left;
        if (channels === 2) into[1] = right;
        if (texture === 'smooth') {
          fillSmooth(into, from, to);
          return;
        }
        const tilted = texture === 'band' ? 1 : tilts[0]!.gain;
        if (texture === 'dust' || texture === 'crackle') fillGrains(into, from, to, texture === 'dust' ? tilted : tilted * steadyLevel);
        else fillWhite(into, from, to, texture === 'band' ? level : tilted * steadyLevel);
        for (let c = 0; c < channels; c++) {
          if (texture === 'band') bands[c]!.process(into[c]!, from, to);
          else tilts[c]!.process(into[c]!, from, to);
        }
      },
    };
  },
});

/** A curve through the two middle ones of four values (Catmull & Rom 1974). */
function between(values: Float64Array, place: number): number {
  const [a, b, c, d] = values;
  return b! + 0.5 * place * (c! - a! + place * (2 * a! - 5 * b! + 4 * c! - d! + place * (3 * (b! - c!) + d! - a!)));
}
