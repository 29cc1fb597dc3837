import type { Effect, EffectPreset } from './effect';
import { effects } from './index';

/** Words of the trade for what somebody wants to hear, and the effects that do it. */
export const tradeWords: Readonly<Record<string, readonly string[]>> = {
  'further farther away behind far distant': ['distance', 'reverb', 'filter'],
  'closer near intimate': ['transient-shaper', 'compressor', 'eq'],
  'bigger larger huge giant wider': ['reverb', 'detune', 'stereo-image', 'haas', 'sub-weight'],
  'thicker fatter fuller doubled': ['detune', 'chorus', 'harmonic-builder', 'drive', 'sub-weight'],
  'thinner lighter smaller': ['filter', 'eq', 'tilt'],
  'telephone radio intercom loudspeaker megaphone': ['filter', 'drive', 'crusher', 'eq'],
  'muffled behind a wall underwater': ['filter', 'tilt', 'convolution'],
  'brighter crisper air sheen': ['tilt', 'eq', 'harmonic-builder'],
  'darker warmer duller': ['tilt', 'filter', 'drive'],
  'punch snap attack sharper': ['transient-shaper', 'compressor', 'gate'],
  'louder loudness glue tame': ['limiter', 'compressor', 'clipper', 'multiband'],
  'dirt dirty distortion broken gritty crunch': ['drive', 'grit', 'crusher', 'band-drive', 'clipper'],
  'robot metallic machine bell': ['ring-modulator', 'frequency-shifter', 'resonator', 'flanger'],
  'low end rumble weight sub bass boom': ['sub-weight', 'eq', 'harmonic-builder'],
  'wobble movement alive swirl': ['tremolo', 'chorus', 'phaser', 'flanger', 'rotation'],
  'room space hall cave ambience': ['reverb', 'convolution', 'shimmer'],
  'echo repeats slapback': ['delay', 'reverse-delay'],
  'duck sidechain make room pump': ['ducker', 'dynamic-eq', 'compressor'],
  'noise clean quiet gaps': ['gate', 'filter', 'dynamic-eq'],
  'heaven magic icy climbing octave': ['shimmer', 'resonator'],
  'laser zap chirp spring': ['dispersion', 'frequency-shifter'],
  'circle around orbit spin turn': ['rotation', 'tremolo'],
  'mono stereo sides': ['stereo-image', 'haas', 'centring'],
};

/** An effect that was found, with those of its presets that fit; in the order of how well they do. */
export interface FoundEffect {
  readonly effect: Effect;
  readonly presets: readonly EffectPreset[];
}

/**
 * Finds effects by what somebody types: the beginning of a name, a preset, a word of its purpose or its family, or a word of the trade such as “thicker”. All words
 * must fit. With nothing typed, all effects.
 */
export function searchEffects(text: string, all: readonly Effect[] = effects): FoundEffect[] {
  const words = text
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter((word) => word !== '');
  return all
    .map((effect) => {
      const scores = words.map((word) => scoreOf(effect, word));
      const presets = words.length === 0 ? [] : effect.presets.filter(({ name }) => words.every((word) => begins(name, word)));
      return { effect, presets, fits: scores.every((score) => score > 0), score: scores.reduce((sum, score) => sum + score, 0) };
    })
    .filter(({ fits }) => fits)
    .sort((a, b) => b.score - a.score)
    .map(({ effect, presets }) => ({ effect, presets }));
}

function scoreOf(effect: Effect, word: string): number {
  // Of names that begin alike, the shorter is nearer to what was typed.
  if (effect.label.toLowerCase().startsWith(word)) return 9 + word.length / effect.label.length;
  if (begins(effect.label, word)) return 8;
  const trade = Object.entries(tradeWords).flatMap(([key, ids]) => (begins(key, word) ? [ids.indexOf(effect.id)] : []));
  const rank = Math.min(...trade.filter((index) => index >= 0), Infinity);
  if (rank < Infinity) return 7 - rank / 10;
  if (effect.presets.some(({ name }) => begins(name, word))) return 5;
  if (begins(effect.family, word)) return 4;
  return begins(effect.purpose, word) ? 3 : 0;
}

/** True where a word of a text begins with what was typed. */
function begins(text: string, typed: string): boolean {
  return text
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .some((word) => word.startsWith(typed));
}
