import type { Decibels, Seconds } from '../../units';
import { gainParameter } from '../address';
import { clipEnd, soundEnd } from '../time/clip-times';
import type { Clip, Project, Sound } from '../schema';
import { deliveryOf } from './delivery-edits';
import { checkRoom } from './chain-edits';
import { edgeFade, fitFades } from './clip-edits';
import { defineEdit, EditError, soundOf, takeId } from './edit';

/** What can be done about something that a delivery would show; in words that name the undo step. */
export const remedies = {
  'change level': 'Change the level',
  limit: 'Limit the sound',
  'block direct current': 'Block direct current',
  'fade ends': 'Fade the ends',
  'open ends': 'Take the fades off both ends',
  trim: 'Leave out silent ends',
  'ring out': 'Let it ring out',
} as const;
export type Remedy = keyof typeof remedies;

export interface MendArguments {
  readonly sound: string;
  readonly remedy: Remedy;
  /** By how much the level changes, for “change level”; the true peak not to pass, for “limit”. */
  readonly decibels?: Decibels;
  /** Whose settings change, for “trim” and “ring out”. */
  readonly delivery?: string;
}

/** What the dial of a limiter reaches; a sound cannot be raised further than that by its fader either. */
const mostLimiterGain: Decibels = 36;
const startTolerance: Seconds = 0.001;

/** Mends what a delivery of a sound would show: its level, its peaks, direct current, its ends; or changes what is asked of deliveries. */
export const mend = defineEdit<MendArguments>({
  label: ({ remedy }) => remedies[remedy],
  apply: (draft, { sound, remedy, decibels = 0, delivery = '' }) => {
    const target = soundOf(draft, sound);
    if (remedy === 'change level') changeLevel(target, decibels);
    else if (remedy === 'limit') limit(draft, target, decibels);
    else if (remedy === 'block direct current') addLast(draft, target, 'trim', { gain: 0, blockDc: true });
    else if (remedy === 'trim') deliveryOf(draft, delivery).trim = true;
    else if (remedy === 'ring out') deliveryOf(draft, delivery).tail = 'ring out';
    else setEnds(target, remedy === 'fade ends' ? edgeFade : 0);
  },
});

/** Moves the sound’s fader, and with it the lane that may move it. */
function changeLevel(target: Sound, by: Decibels): void {
  const gain = target.gain + by;
  if (gain < gainParameter.min || gain > gainParameter.max)
    throw new EditError(`The sound’s gain would be ${gain.toFixed(1)} dB; it goes from ${gainParameter.min} to ${gainParameter.max} dB.`);
  target.gain = gain;
  const lane = target.automation.find(({ address }) => address === 'sound/gain');
  if (lane) lane.trim += by;
}

/**
 * Puts a limiter behind everything, or sets the one that is there. The sound’s fader comes behind it, so what that adds goes into the limiter; what it
 * takes away stays.
 */
function limit(draft: Project, target: Sound, ceiling: Decibels): void {
  const raised = Math.max(0, target.gain);
  target.gain -= raised;
  const before = Math.min(0, ceiling - target.gain);
  const last = target.chain.at(-1);
  if (last?.effect !== 'limiter' || !last.enabled) addLast(draft, target, 'limiter', { gain: raised, ceiling: before });
  else {
    const gain = Number(last.parameters['gain'] ?? 0) + raised;
    Object.assign(last.parameters, { gain: Math.min(mostLimiterGain, gain), ceiling: before });
  }
}

function addLast(draft: Project, target: Sound, effect: string, parameters: Record<string, number | boolean>): void {
  target.chain.push({ id: takeId(draft, 'step'), effect, enabled: true, mix: 1, parameters: { ...parameters } });
  checkRoom(draft, { sound: target.id, owner: 'sound' }, target.chain);
}

/** Sets the fades of the clips that begin with the sound and of those that end with it. */
function setEnds(target: Sound, fade: Seconds): void {
  const end = soundEnd(target);
  const clips = target.layers.flatMap((layer) => layer.clips);
  const start = Math.min(...clips.map((clip) => clip.start));
  const set = (clip: Clip, name: 'fadeIn' | 'fadeOut'): void => {
    if (clip.locked) throw new EditError('A clip at the end is locked; unlock it first.');
    clip[name].length = fade === 0 ? 0 : Math.max(fade, clip[name].length);
    fitFades(clip);
  };
  if (fade === 0 && !clips.some((clip) => clip.fadeIn.length > 0 || clip.fadeOut.length > 0))
    throw new EditError('No clip is faded; the seam is heard for another reason.');
  for (const clip of clips) {
    if (clip.start < start + startTolerance) set(clip, 'fadeIn');
    if (clipEnd(clip) > end - startTolerance) set(clip, 'fadeOut');
  }
}
