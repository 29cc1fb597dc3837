import type { Audio } from '../audio/audio';
import { toStereo } from '../audio/audio';
import type { ConductData, Take, Takes } from '../conduct/conduct-data';
import { siblingSound } from '../kin/take-draws';
import type { EffectCatalogue } from '../project/parameters';
import type { Project, Sound } from '../project/schema';
import type { RenderContext } from '../render/library';
import { renderSound } from '../render/render-sound';
import type { Frames, Hertz } from '../units';
import { comingRound, isLoop } from './loops';

/** A recording that behaviours play: a sound as it stands, or one of its kept siblings. */
export interface WantedTake {
  /** `<id of the sound>/original` or `<id of the sound>/<number of the sibling>`. */
  readonly asset: string;
  readonly of: Sound;
  /** Index in the family; undefined for the sound as it stands. */
  readonly sibling: number | undefined;
  /** What is heard: the sound with what was drawn for the sibling. */
  readonly realised: Sound;
  /** The same as it is rendered: a loop comes round. */
  readonly sound: Sound;
  /** It is a loop as it stands, whose end goes on at its beginning. */
  readonly loops: boolean;
}

/** What the behaviours of a project play, each recording once. A behaviour that plays the family of a sound without one plays the sound as it stands. */
export function wantedTakes(project: Project, catalogue: EffectCatalogue): WantedTake[] {
  const wanted = new Map<string, WantedTake>();
  const sounds = new Map(project.sounds.map((sound) => [sound.id, sound]));
  const add = (of: Sound, sibling: number | undefined): void => {
    const asset = `${of.id}/${sibling === undefined ? 'original' : sibling + 1}`;
    if (wanted.has(asset)) return;
    const realised = sibling === undefined ? of : siblingSound(of, sibling, catalogue);
    const loops = isLoop(realised, project);
    wanted.set(asset, { asset, of, sibling, realised, sound: loops ? comingRound(realised, project) : realised, loops });
  };
  for (const { play } of project.conduct.behaviours) {
    const sound = play.kind === 'one' ? sounds.get(play.sound) : undefined;
    if (play.kind !== 'one' || !sound || sound.layers.length === 0) continue;
    const members = play.from === 'family' ? playedSiblings(sound) : [];
    if (members.length === 0) add(sound, undefined);
    else for (const index of members) add(sound, index);
  }
  return [...wanted.values()];
}

/** The siblings that a game plays: those that are kept, and where none is, all that are not dropped. */
export function playedSiblings({ family }: Sound): number[] {
  const of = (wanted: (state: string) => boolean): number[] =>
    family.siblings.flatMap(({ state }, index) => (wanted(state) ? [index] : []));
  const kept = of((state) => state === 'kept');
  return kept.length > 0 ? kept : of((state) => state !== 'dropped');
}

/** Renders what a behaviour plays, in one or two channels. Throws as `renderSound` does. */
export function renderTake(
  { sound, loops }: Pick<WantedTake, 'sound' | 'loops'>,
  context: RenderContext,
  progress?: (share: number) => boolean,
): Audio {
  const rendered = renderSound(sound, context, { tail: loops ? 'seamless loop' : 'ring out', ...(progress && { progress }) });
  return rendered.channels.length > 2 ? toStereo(rendered) : rendered;
}

/** What the engine needs of a project: its behaviours, and the takes that are rendered, by their assets with their frames, which are counted at `sampleRate`. */
export function conductData(
  project: Pick<Project, 'conduct' | 'sampleRate'>,
  wanted: readonly (Pick<WantedTake, 'asset' | 'sibling' | 'loops'> & { readonly of: { readonly id: string } })[],
  frames: ReadonlyMap<string, Frames>,
  sampleRate: Hertz = project.sampleRate,
): ConductData {
  const { seed, voices, parameters, buses, moods, groups, behaviours } = project.conduct;
  const takes: Record<string, { original?: Take; family: Take[] }> = {};
  for (const { asset, of, sibling, loops } of wanted) {
    const length = frames.get(asset) ?? 0;
    const take: Take = { asset, frames: length, ...(loops && length > 0 && { loop: { from: 0, to: length } }) };
    const own = (takes[of.id] ??= { family: [] });
    if (sibling === undefined) own.original = take;
    else own.family.push(take);
  }
  const known: Readonly<Record<string, Takes>> = takes;
  return { seed, sampleRate, voices, parameters, buses, moods, groups, behaviours, takes: known };
}
