import type { GameBehaviour, Project } from '@tangled-choir/core';
import { playedSiblings } from '@tangled-choir/core';

type Kind = GameBehaviour['play']['kind'];

export const kinds: readonly Kind[] = ['one', 'pick', 'line', 'burst', 'sprinkle', 'stack', 'blend', 'hold'];

export const kindLabels: Readonly<Record<Kind, string>> = {
  one: 'One',
  pick: 'Pick',
  line: 'Line',
  burst: 'Burst',
  sprinkle: 'Sprinkle',
  stack: 'Stack',
  blend: 'Blend',
  hold: 'Start–Hold–End',
};

export const kindPurposes: Readonly<Record<Kind, string>> = {
  one: 'plays a sound, or one of its family without repeats',
  pick: 'plays one of several',
  line: 'plays several in order',
  burst: 'fires again and again at a rate',
  sprinkle: 'plays now and then, at random',
  stack: 'plays several together',
  blend: 'crossfades along a game parameter',
  hold: 'starts, holds until it is stopped, ends',
};

/** What becomes, within an end, of a behaviour that would go on without one; nothing for others. */
export function wordsInEnd(play: GameBehaviour['play']): string | undefined {
  switch (play.kind) {
    case 'one':
      return play.loops ? 'within an end it is played once' : undefined;
    case 'line':
      return play.step === 'through' && play.again ? 'within an end it goes through once' : undefined;
    case 'burst':
      return play.shots === 0 ? 'within an end it fires once' : undefined;
    case 'sprinkle':
      return 'within an end it plays nothing';
    case 'hold':
      return 'within an end it does not hold';
    default:
      return undefined;
  }
}

const number = (value: number): string => String(Math.round(value * 100) / 100);

/** What a behaviour does, in a few words. */
export function summaryOf({ play, pulls }: GameBehaviour, { sounds, conduct }: Project): string {
  const parameterName = (id: string): string => conduct.parameters.find((each) => each.id === id)?.name.toLowerCase() ?? 'no parameter yet';
  const pulled = pulls.length > 0 ? `, pulled by ${[...new Set(pulls.map(({ parameter }) => parameterName(parameter)))].join(', ')}` : '';
  return wordsOf() + pulled;

  function wordsOf(): string {
    switch (play.kind) {
      case 'one': {
        const sound = sounds.find(({ id }) => id === play.sound);
        if (!sound) return 'no sound yet';
        const family = play.from === 'family' ? playedSiblings(sound).length : 0;
        return `${sound.name}${family > 0 ? `, family of ${family}` : ''}${play.loops ? ', loops' : ''}`;
      }
      case 'pick':
        return play.by === 'parameter'
          ? `Pick by ${parameterName(play.parameter)}`
          : `Pick${play.by === 'chance' ? ' by weight' : ''}${play.avoid > 0 ? `, never the last ${play.avoid}` : ''}`;
      case 'line':
        return play.step === 'call' ? 'Line, a step with each call' : 'Line, all through';
      case 'burst':
        return `Burst, ${number(play.rate)} a second${play.shots > 0 ? `, ${play.shots} shots` : ''}`;
      case 'sprinkle':
        return `Sprinkle, ${number(play.shortest)}–${number(play.longest)} s`;
      case 'stack':
        return 'Stack';
      case 'blend':
        return `Blend by ${parameterName(play.parameter)}`;
      case 'hold':
        return 'Start–Hold–End';
    }
  }
}
