import { hashData } from '../formats/hash';
import { stepsOf } from '../project/chain/chain-tree';
import { effectSources, usedSources } from '../project/chain/references';
import { withoutSolos } from '../project/listening';
import type { Project, Sound, Source } from '../project/schema';
import { sourceIdentities } from '../project/sources';

/**
 * A short id of everything that decides how a sound comes out: layers, clips, chains, gains, buses, automation, and the identities
 * of the sources used, but not what is soloed for listening. Delivered files carry it, so that a file leads back to its recipe.
 */
export function recipeId(heard: Sound, project: Pick<Project, 'sources' | 'sampleRate'>): string {
  const sound = withoutSolos(heard);
  const identities = sourceIdentities(project.sources);
  const layers = sound.layers.map((layer) => ({
    ...layer,
    name: '',
    states: undefined,
    aside: undefined,
    clips: layer.clips.map((clip) => ({ ...clip, source: identities.get(clip.source ?? '') ?? '' })),
  }));
  const buses = sound.buses.map((bus) => ({ ...bus, name: '', states: undefined, aside: undefined }));
  return hashData([
    project.sampleRate,
    sound.gain,
    sound.chain,
    layers,
    buses,
    sound.soloing,
    sound.automation,
    sound.movers,
    sound.pulls,
    // What effects take from sources is named by id in the chains.
    ...effectSources(sound).map((id) => identities.get(id)),
    // The tempo only decides how it sounds where a tide or a time counts beats.
    countsBeats(sound) ? sound.tempo.bpm : 0,
    // Recipes of stereo sounds keep the ids that they had before there were others.
    ...(sound.layout === 'stereo' ? [] : [sound.layout]),
  ]).slice(0, 12);
}

function countsBeats(sound: Sound): boolean {
  const chains = [sound.chain, ...sound.layers.map((layer) => layer.chain), ...sound.buses.map((bus) => bus.chain)];
  return (
    sound.movers.some((mover) => mover.kind === 'tide' && mover.unit === 'beats') ||
    chains.some((chain) => stepsOf(chain).some(({ parameters }) => (parameters['note'] ?? 'seconds') !== 'seconds'))
  );
}

/** The sources that can be heard in a sound, each once, and behind a print those that went into it. */
export function heardSources(sound: Sound, project: Pick<Project, 'sources'>): Source[] {
  const byId = new Map(project.sources.map((source) => [source.id, source]));
  const found = new Set<Source>();
  const follow = (id: string): void => {
    const source = byId.get(id);
    if (!source || found.has(source)) return;
    found.add(source);
    for (const inner of source.origin.print?.sources ?? []) follow(inner.id);
  };
  for (const id of usedSources(sound)) follow(id);
  return project.sources.filter((source) => found.has(source));
}
