import { createRandom, seedOf } from '../dsp/random';
import { hashText } from '../formats/hash';
import { alternativesAddress, findProperty, writeProperty } from '../project/address';
import { fitFades } from '../project/edits/clip-edits';
import { mapSteps, stepsOf } from '../project/chain/chain-tree';
import { copyPatch } from '../project/patch/copy-patch';
import type { EffectCatalogue } from '../project/parameters';
import type { EffectStep } from '../project/chain/chain-schema';
import type { Project, Sound, Source, Alternative, Sway } from '../project/schema';
import { effectSources, usedSources } from '../project/chain/references';
import { offsetValue } from '../project/offset';
import { withoutSolos } from '../project/listening';
import { sourceIdentities } from '../project/sources';
import type { Seconds } from '../units';
import { shuffledBags } from './shuffled-bags';

/** What a sibling drew: per address its offset, for a presence 1 (there) or 0 (not), for alternatives the stretch of a source that is played. */
export type Draw = number | Alternative;
export type Draws = Readonly<Record<string, Draw>>;

/**
 * The draws of sibling `index`. Each depends on the seed, the sibling, its roll and the address alone, or on the one whose chance it shares: another
 * sway, added or taken away, moves no other draw. A kept sibling has its draws in the document. Without sways a sibling equals the original.
 */
export function drawSibling(sound: Sound, index: number): Draws {
  const { seed, sways, siblings } = sound.family;
  const sibling = siblings[index];
  if (sibling?.draws) return sibling.draws;
  const draws: Record<string, Draw> = {};
  for (const sway of sways) draws[sway.address] = drawOf(sway, seed, index, sibling?.roll ?? 0);
  return draws;
}

function drawOf(sway: Sway, seed: number, index: number, roll: number): Draw {
  const like = sway.like ?? sway.address;
  if (sway.kind === 'alternatives') {
    // Shuffled over the family: all are heard before one comes again. Who is rolled again gets the next of all.
    const place = shuffledBags(sway.of.length, index + 1, seedOf(seed, like))[index]!;
    return sway.of[(place + roll) % sway.of.length]!;
  }
  const chance = createRandom(seedOf(seed, index, roll, like)).next();
  return sway.kind === 'presence' ? Number(chance < sway.chance) : sway.low + (sway.high - sway.low) * chance;
}

/** The sound with draws taken: offsets added to their properties, absent layers muted. Draws that lead nowhere any more are ignored. */
export function takeDraws(sound: Sound, draws: Draws, catalogue: EffectCatalogue): Sound {
  const taken = structuredCopy(sound);
  for (const [address, draw] of Object.entries(draws)) {
    const presence = /^layer\/([^/]+)\/presence$/.exec(address);
    if (presence) {
      const layer = taken.layers.find((candidate) => candidate.id === presence[1]);
      if (layer && draw === 0) layer.muted = true;
      continue;
    }
    if (typeof draw !== 'number') {
      playStretch(taken, address, draw);
      continue;
    }
    const property = findProperty(sound, address, catalogue);
    // What moves along a lane is moved with its whole lane.
    const lane = taken.automation.find((candidate) => candidate.address === address && candidate.enabled);
    if (lane) {
      lane.trim += draw;
      continue;
    }
    if (property?.parameter.kind !== 'number' || typeof property.value !== 'number') continue;
    writeProperty(taken, address, offsetValue(property.parameter, property.value, draw), catalogue);
  }
  return taken;
}

/** Shorter is nothing: a piece of a clip for which an alternative is too short plays so much of its end. */
const shortest: Seconds = 0.001;

/**
 * Lets a clip play another stretch of a source; what was said of moments of the one that it plays otherwise holds no longer. A piece of what the clip was plays as
 * much of the alternative, so that a cut stays unheard; the piece that goes on to the end plays the alternative to its end.
 */
function playStretch(sound: Sound, address: string, { source, from, to, over }: Alternative): void {
  const clip = sound.layers.flatMap(({ id, clips }) => clips.filter((each) => alternativesAddress(id, each.id) === address))[0];
  if (clip?.source === undefined) return;
  const head = clip.offset - over.from;
  const reachesEnd = clip.offset + clip.length >= over.to - shortest;
  const begin = Math.max(0, Math.min(to - shortest, from + head));
  const end = reachesEnd ? to : Math.min(to, begin + clip.length);
  if (clip.source === source && Math.abs(clip.offset - begin) < 1e-9 && Math.abs(clip.length - (end - begin)) < 1e-9) return;
  Object.assign(clip, { source, offset: begin, length: Math.max(shortest, end - begin) });
  delete clip.loop;
  delete clip.pins;
  delete clip.curves;
  fitFades(clip);
}

/** A sibling as a sound of its own, ready to render. */
export function siblingSound(sound: Sound, index: number, catalogue: EffectCatalogue): Sound {
  return takeDraws(sound, drawSibling(sound, index), catalogue);
}

const copySteps = (chain: readonly EffectStep[]): EffectStep[] =>
  mapSteps(chain, (step) => ({ ...step, parameters: { ...step.parameters } }));

/** A copy that can be changed without touching the document. */
function structuredCopy(sound: Sound): Sound {
  return {
    ...sound,
    layers: sound.layers.map((layer) => ({
      ...layer,
      clips: layer.clips.map((clip) => ({
        ...clip,
        fadeIn: { ...clip.fadeIn },
        fadeOut: { ...clip.fadeOut },
        ...(clip.notes && { notes: clip.notes.map((note) => ({ ...note })) }),
      })),
      ...(layer.patch && { patch: copyPatch(layer.patch) }),
      sends: layer.sends.map((send) => ({ ...send })),
      chain: copySteps(layer.chain),
    })),
    buses: sound.buses.map((bus) => ({
      ...bus,
      sends: bus.sends.map((send) => ({ ...send })),
      chain: copySteps(bus.chain),
    })),
    automation: sound.automation.map((lane) => ({ ...lane })),
    movers: sound.movers.map((mover) => ({ ...mover })),
    chain: copySteps(sound.chain),
  };
}

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
  return hashText(
    JSON.stringify([
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
    ]),
  ).slice(0, 12);
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
