import type { GameBehaviour } from '@tangled-choir/core';
import type { Offer } from '../ui/choice-field';

type Play = GameBehaviour['play'];
type PlayOf<K extends Play['kind']> = Extract<Play, { readonly kind: K }>;

/** What can be chosen of a behaviour, in words. */
export const choices = {
  from: [
    { value: 'family', name: 'its family' },
    { value: 'original', name: 'it as it is' },
  ] satisfies readonly Offer<PlayOf<'one'>['from']>[],
  loops: [
    { value: false, name: 'it is over' },
    { value: true, name: 'it is stopped' },
  ] satisfies readonly Offer<boolean>[],
  by: [
    { value: 'shuffle', name: 'shuffled' },
    { value: 'chance', name: 'by weight' },
    { value: 'parameter', name: 'by a parameter' },
  ] satisfies readonly Offer<PlayOf<'pick'>['by']>[],
  step: [
    { value: 'call', name: 'with each call' },
    { value: 'through', name: 'all through' },
  ] satisfies readonly Offer<PlayOf<'line'>['step']>[],
  /** At the end of a line, by how it goes on. */
  again: {
    call: [
      { value: true, name: 'begins again' },
      { value: false, name: 'stays at the last' },
    ],
    through: [
      { value: true, name: 'begins again' },
      { value: false, name: 'ends' },
    ],
  } satisfies Record<PlayOf<'line'>['step'], readonly Offer<boolean>[]>,
  leave: [
    { value: 'at once', name: 'at once' },
    { value: 'end of round', name: 'at the end of a round' },
  ] satisfies readonly Offer<PlayOf<'hold'>['leave']>[],
  stopInStart: [
    { value: 'finish', name: 'finishes it' },
    { value: 'cut', name: 'cuts it' },
  ] satisfies readonly Offer<PlayOf<'hold'>['stopInStart']>[],
  shot: [
    { value: 'start', name: 'the first' },
    { value: 'hold', name: 'each' },
    { value: 'end', name: 'the last' },
  ] satisfies readonly Offer<GameBehaviour['slot']['stage']>[],
  stage: [
    { value: 'start', name: 'start' },
    { value: 'hold', name: 'hold' },
    { value: 'end', name: 'end' },
  ] satisfies readonly Offer<GameBehaviour['slot']['stage']>[],
  givesWay: [
    { value: 'oldest', name: 'the oldest' },
    { value: 'quietest', name: 'the quietest' },
    { value: 'newest', name: 'the new one' },
  ] satisfies readonly Offer<GameBehaviour['givesWay']>[],
} as const;
