import type { Clip } from '@tangled-choir/core';
import { clipDuration } from '@tangled-choir/core';
import { signed } from '../../ui/quantity';

/** A clip as a box of time and pitch, beside what it was: lengths to the right, partials upwards, formants as a band. In a field of 240 by 56. */
export interface StretchPicture {
  readonly was: { readonly width: number; readonly y: number; readonly height: number };
  readonly now: { readonly width: number };
  readonly partials: readonly number[];
  readonly colour: { readonly y: number; readonly height: number };
  readonly text: string;
}

const [width, height] = [238, 52];
const usual = { width: 84, spacing: 12, formant: 20 };

export function stretchPicture(clip: Clip): StretchPicture {
  const ratio = clipDuration(clip) / clip.length;
  const pitch = clip.speed + clip.pitch;
  const formant = clip.speed + (clip.keepFormants ? 0 : clip.pitch) + clip.formant;
  // Four octaves to either side are told apart.
  const now = Math.max(10, Math.min(width, usual.width * (1 + Math.log2(ratio) / 2.2)));
  const spacing = Math.max(2.5, usual.spacing * 2 ** (pitch / 24));
  const partials: number[] = [];
  for (let y = spacing; y < height - 1 && partials.length < 16; y += spacing) partials.push(2 + height - y);
  const centre = Math.max(6, Math.min(height - 6, usual.formant * 2 ** (formant / 24)));
  return {
    was: { width: usual.width, y: 2, height },
    now: { width: now },
    partials,
    colour: { y: 2 + height - centre - 6, height: 12 },
    text: describe(clip, ratio, pitch, formant),
  };
}

function describe({ stretch, speed }: Clip, ratio: number, pitch: number, formant: number): string {
  if (Math.abs(ratio - 1) < 1e-9 && pitch === 0 && formant === 0)
    return stretch === 1 && speed === 0 ? 'As recorded' : 'As long and as high as recorded';
  const length = Math.abs(ratio - 1) < 1e-9 ? 'as long' : `${ratio < 10 ? ratio.toFixed(2) : ratio.toFixed(0)} times as long`;
  const high = pitch === 0 ? 'as high' : `${signed(pitch, 1)} st`;
  const colour = formant === pitch ? '' : formant === 0 ? ', formants as recorded' : `, formants ${signed(formant, 1)} st`;
  return `${length}, ${high}${colour}`;
}
