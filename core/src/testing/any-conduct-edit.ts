import type { EditArguments } from '../project/edits';
import { behaviourKinds } from '../project/game/conduct-schema';
import { startingDistance, startingCompressor, startingPlay, startingRoom } from '../project/game/create-behaviour';
import type { Project } from '../project/schema';

type Name =
  | 'addBehaviour'
  | 'setBehaviour'
  | 'moveBehaviour'
  | 'duplicateBehaviour'
  | 'removeBehaviour'
  | 'setGamePull'
  | 'setConduct'
  | 'addGamePart'
  | 'setGamePart'
  | 'removeGamePart'
  | 'setMoodLevel'
  | 'addScript'
  | 'removeScript';

/** Arguments of edits of behaviours and of what a game has beside them, chosen by two numbers; see `any-edit.ts`. */
export function conductArguments(
  project: Project,
  pick: number,
  amount: number,
): { readonly [N in Name]: () => EditArguments<N> | undefined } {
  const { conduct } = project;
  const behaviour = conduct.behaviours[pick % Math.max(1, conduct.behaviours.length)];
  const gamePart = (['parameters', 'buses', 'moods', 'groups'] as const)[pick % 4]!;
  return {
    addBehaviour: () => ({
      kind: behaviourKinds[pick % behaviourKinds.length]!,
      name: `Behaviour ${pick}`,
      ...(behaviour && pick % 3 && { parent: behaviour.id }),
      ...(pick % 2 && { sound: project.sounds[pick % project.sounds.length]!.id }),
    }),
    setBehaviour: () =>
      behaviour && {
        behaviour: behaviour.id,
        label: 'Level',
        change: {
          gain: amount * 200 - 100,
          name: `Ice ${pick}`,
          ...(pick % 4 === 1 && { play: startingPlay(behaviourKinds[pick % behaviourKinds.length]!) }),
          ...(pick % 5 === 1 && { bus: conduct.buses[0]?.id, group: conduct.groups[0]?.id, mood: conduct.moods[0]?.id }),
          ...(pick % 5 === 2 && {
            distance: { ...startingDistance, outer: amount * 50, law: 'drawn' as const, curve: [{ at: 0.5, value: -20 }], roomFar: amount },
            place: { x: amount * 20_000, y: -3 },
          }),
          ...(pick % 5 === 3 && { distance: undefined, place: undefined }),
        },
      },
    moveBehaviour: () => {
      const into = conduct.behaviours[(pick + 1) % Math.max(1, conduct.behaviours.length)];
      return behaviour && { behaviour: behaviour.id, index: pick % 4, ...(into && pick % 3 && { parent: into.id }) };
    },
    duplicateBehaviour: () => behaviour && { behaviour: behaviour.id },
    removeBehaviour: () => behaviour && { behaviour: behaviour.id },
    setGamePull: () =>
      behaviour &&
      conduct.parameters[0] && {
        behaviour: behaviour.id,
        parameter: conduct.parameters[0].id,
        property: (['gain', 'pitch', 'highCut', 'chance', 'rate'] as const)[pick % 5]!,
        points:
          pick % 4
            ? [
                { at: amount * 2, value: amount * 99 - 50 },
                { at: 0, value: -1 },
              ]
            : [],
      },
    setConduct: () => (pick % 2 ? { seed: pick } : { voices: pick }),
    addGamePart: () => ({ part: gamePart, name: `Part ${pick}` }),
    setGamePart: () => {
      const [parameter, bus, mood, group] = [conduct.parameters[0], conduct.buses[0], conduct.moods[0], conduct.groups[0]];
      if (gamePart === 'parameters')
        return parameter && { id: parameter.id, part: gamePart, change: { high: amount * 100, start: 7, smoothing: amount * 90 } };
      if (gamePart === 'moods') return mood && { id: mood.id, part: gamePart, change: { fade: amount * 200 } };
      if (gamePart === 'groups') return group && { id: group.id, part: gamePart, change: { budget: amount * 1e6 } };
      const other = conduct.buses[1];
      return (
        bus && {
          id: bus.id,
          part: gamePart,
          change: {
            gain: amount * 99,
            duck: other && { under: other.id, depth: -amount * 9, attack: 0.1, release: 50 },
            into: pick % 3 ? other?.id : undefined,
            lowCut: amount * 4_000,
            compressor: pick % 5 ? { ...startingCompressor, ratio: amount * 300, attack: amount } : undefined,
            room: pick % 2 ? { ...startingRoom, decay: amount * 30 } : undefined,
          },
        }
      );
    },
    removeGamePart: () => {
      const first = conduct[gamePart][0];
      return first && { part: gamePart, id: first.id };
    },
    setMoodLevel: () =>
      conduct.moods[0] && conduct.buses[0] && { mood: conduct.moods[0].id, bus: conduct.buses[0].id, level: -amount * 30 },
    addScript: () => ({
      name: 'Walk',
      seconds: amount * 3 + 1,
      moves: behaviour ? [{ at: amount, move: { do: 'trigger' as const, behaviour: behaviour.id } }] : [],
    }),
    removeScript: () => conduct.scripts[0] && { script: conduct.scripts[0].id },
  };
}
