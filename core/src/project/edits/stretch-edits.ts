import type { Seconds, Semitones } from '../../units';
import { attackParameter, formantParameter, grainParameter, pitchParameter, stretchParameter, wearParameter } from '../address';
import type { Clip, ClipCurve, CurvePoint, Pin } from '../schema';
import { clipCurves } from '../schema';
import { isStretched } from '../time/clip-pace';
import { clipDuration } from '../time/clip-times';
import type { ClipsArguments } from './clip-edits';
import { clipsLabel, fitFades, unlockedClip } from './clip-edits';
import { defineEdit, EditError, soundOf } from './edit';

/** A stretched clip lasts at most so long: it is held in memory as a whole. */
export const longestStretched: Seconds = 3_600;
const { min: leastStretch, max: mostStretch } = stretchParameter;

/** How far curves go to either side; see the schema for their units. */
export const curveReach: Readonly<Record<ClipCurve, number>> = { speed: 36, stretch: 4, pitch: 36, formant: 24 };
const curveLabels: Readonly<Record<ClipCurve, string>> = {
  speed: 'Speed curve',
  stretch: 'Stretch curve',
  pitch: 'Pitch curve',
  formant: 'Formant curve',
};

/** What is done to the length and the pitch of clips beside their speed. */
export type StretchSettings = Partial<
  Pick<Clip, 'stretch' | 'pitch' | 'formant' | 'keepFormants' | 'method' | 'wear' | 'grain' | 'attack'>
>;

const stretchParameters = {
  stretch: stretchParameter,
  pitch: pitchParameter,
  formant: formantParameter,
  wear: wearParameter,
  grain: grainParameter,
  attack: attackParameter,
} as const;
const numbers = Object.keys(stretchParameters) as (keyof typeof stretchParameters)[];

const settingLabels: Readonly<Record<keyof StretchSettings, string>> = {
  stretch: 'Stretch',
  pitch: 'Pitch of',
  formant: 'Formants of',
  keepFormants: 'Formants of',
  method: 'Stretch method of',
  wear: 'Wear of',
  grain: 'Grain of',
  attack: 'Attack of',
};

/** Sets some of it for clips; what they play stays the same. Throws EditError where a clip would last longer than an hour. */
export const stretchClips = defineEdit<ClipsArguments & { settings: StretchSettings }>({
  label: ({ sound, clips, settings }, project) => {
    const [first = 'stretch'] = Object.keys(settings) as (keyof StretchSettings)[];
    return clipsLabel(settingLabels[first], project, sound, clips);
  },
  apply: (draft, { sound, clips, settings }) => {
    for (const id of clips) {
      const { clip, content } = unlockedClip(draft, soundOf(draft, sound), id);
      Object.assign(clip, settings);
      for (const key of numbers) clip[key] = Math.min(stretchParameters[key].max, Math.max(stretchParameters[key].min, clip[key]));
      assertHolds(clip, content.name);
      fitFades(clip);
    }
  },
});

/** A clip, and the moments of the axis from which to which it is to last. */
export interface Extent {
  readonly clip: string;
  readonly from: Seconds;
  readonly to: Seconds;
}

/**
 * Stretches clips, at the pitch that they have, so that each begins and ends at two moments: of a drag, of a length that was typed, of two marks. Throws
 * EditError where that is beyond 1/4 or 200 times the length that its speed gives it.
 */
export const stretchBetween = defineEdit<{ sound: string; to: readonly Extent[] }>({
  label: ({ sound, to }, project) =>
    clipsLabel(
      'Stretch',
      project,
      sound,
      to.map(({ clip }) => clip),
    ),
  apply: (draft, { sound, to }) => {
    for (const { clip: id, from, to: end } of to) {
      const { clip, content } = unlockedClip(draft, soundOf(draft, sound), id);
      fitStretch(clip, end - from, content.name);
      clip.start = Math.max(0, from);
    }
  },
});

/** Pins keep their places among each other: what they tie is stretched along. */
function fitStretch(clip: Clip, duration: Seconds, name: string): void {
  const before = clipDuration(clip);
  const factor = duration > 0 ? duration / before : NaN;
  const stretch = clip.stretch * factor;
  if (!(stretch >= leastStretch * (1 - 1e-9) && stretch <= mostStretch * (1 + 1e-9)))
    throw new EditError(
      `“${name}” cannot last ${duration.toFixed(3)} s by stretching: from ${(before * (leastStretch / clip.stretch)).toFixed(3)} to ${(before * (mostStretch / clip.stretch)).toFixed(0)} s are possible.`,
    );
  clip.stretch = Math.min(mostStretch, Math.max(leastStretch, stretch));
  for (const pin of clip.pins ?? []) pin.time *= factor;
  assertHolds(clip, name);
  fitFades(clip);
}

/** Throws EditError when a clip would be held in memory that is too long for it. */
export function assertHolds(clip: Clip, name: string): void {
  const duration = clipDuration(clip);
  if (duration > longestStretched && isStretched(clip))
    throw new EditError(`“${name}” would last ${(duration / 60).toFixed(0)} minutes; a stretched clip can last 60.`);
}

/** Gives clips the pitch and the pitch curve that tune them, in place of those that they had; `to` names what they are tuned to. */
export const tuneClips = defineEdit<{ sound: string; to: string; tunings: readonly ClipTuning[] }>({
  label: ({ sound, to, tunings }, project) => {
    const clips = tunings.map(({ clip }) => clip);
    return `${clipsLabel('Tune', project, sound, clips)} to ${to}`;
  },
  apply: (draft, { sound, tunings }) => {
    for (const { clip: id, pitch, points } of tunings) {
      const { clip, content } = unlockedClip(draft, soundOf(draft, sound), id);
      clip.pitch = Math.max(pitchParameter.min, Math.min(pitchParameter.max, pitch));
      bend(clip, 'pitch', points);
      assertHolds(clip, content.name);
    }
  },
});

/** A clip, and the pitch and pitch curve that tune it. */
export interface ClipTuning {
  readonly clip: string;
  readonly pitch: Semitones;
  readonly points: readonly CurvePoint[];
}

/** Bends the speed, stretch, pitch or formants of a clip along its content; without points it is even again. What is played stays the same. */
export const setClipCurve = defineEdit<{ sound: string; clip: string; curve: ClipCurve; points: readonly CurvePoint[] }>({
  label: ({ sound, clip, curve }, project) => clipsLabel(`${curveLabels[curve]} of`, project, sound, [clip]),
  apply: (draft, { sound, clip: id, curve, points }) => {
    const { clip, content } = unlockedClip(draft, soundOf(draft, sound), id);
    bend(clip, curve, points);
    assertHolds(clip, content.name);
    fitFades(clip);
  },
});

function bend(clip: Clip, curve: ClipCurve, points: readonly CurvePoint[]): void {
  const reach = curveReach[curve];
  // Of two points at one place the later one counts; both would leave the value there undecided.
  const places = new Map(points.map(({ at, value }) => [at, Math.max(-reach, Math.min(reach, value))]));
  const curves = { ...clip.curves };
  if (places.size === 0) delete curves[curve];
  else curves[curve] = [...places].sort(([a], [b]) => a - b).map(([at, value]) => ({ at, value }));
  if (clipCurves.some((each) => curves[each])) clip.curves = curves;
  else delete clip.curves;
}

/** Ties moments of a clip's content to moments after its start; without pins it passes evenly again. Throws EditError where content would have to go back. */
export const setPins = defineEdit<{ sound: string; clip: string; pins: readonly Pin[] }>({
  label: ({ sound, clip, pins }, project) => clipsLabel(pins.length === 0 ? 'Unpin' : 'Pin', project, sound, [clip]),
  apply: (draft, { sound, clip: id, pins }) => {
    const { clip, content } = unlockedClip(draft, soundOf(draft, sound), id);
    const sorted = [...pins].sort((a, b) => a.time - b.time).map(({ at, time }) => ({ at, time }));
    const forwards = clip.reversed ? -1 : 1;
    if (sorted.some((pin, i) => i > 0 && !(forwards * (pin.at - sorted[i - 1]!.at) > 0 && pin.time > sorted[i - 1]!.time)))
      throw new EditError(`The pins of “${content.name}” would cross each other.`);
    if (sorted.length === 0) delete clip.pins;
    else clip.pins = sorted;
    assertHolds(clip, content.name);
    fitFades(clip);
  },
});
