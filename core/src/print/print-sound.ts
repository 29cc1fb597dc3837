import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import { hashBytes } from '../formats/hash';
import { writeWav } from '../formats/wav/wav-write';
import { siblingSound } from '../kin/take-draws';
import type { NewSource, PrintedPart } from '../project/edits';
import type { EffectCatalogue } from '../project/parameters';
import { isMoverAddress } from '../project/mover-address';
import { keyLayers, usedSources } from '../project/chain/references';
import { withoutSolos } from '../project/listening';
import type { AutomationLane, Layer, Print, Project, Sound } from '../project/schema';
import type { RenderContext } from '../render/library';
import type { RenderOptions } from '../render/render-sound';
import { renderSound } from '../render/render-sound';
import { audibleLayers } from '../render/sound-graph';
import type { Frames, Seconds } from '../units';

/**
 * Which of the chosen layers are printed into one: those that are not muted, so that nothing comes in that was silent; all of them when all are.
 */
export function layersToPrint(sound: Sound, chosen: readonly string[]): string[] {
  const layers = sound.layers.filter((layer) => chosen.includes(layer.id));
  const heard = audibleLayers(withoutSolos(sound));
  const audible = layers.filter(({ id }) => heard.has(id));
  return (audible.length > 0 ? audible : layers).map(({ id }) => id);
}

/**
 * The sound that a print renders: layers that are printed sound even if they are muted; the printed layer is muted in their place. Solos are left
 * out: they are for listening.
 */
export function printRecipe(heard: Sound, part: PrintedPart): Sound {
  const sound = withoutSolos(heard);
  const bare: Sound = { ...sound, marks: [], family: { ...sound.family, sways: [], siblings: [] } };
  delete bare.picture;
  delete bare.guide;
  if (part === 'whole sound') {
    const audibleIds = audibleLayers(sound);
    const audible = sound.layers.filter(({ id }) => audibleIds.has(id));
    const layers = withKeys(sound, audible, ['sound', ...sound.buses.map(({ id }) => `bus/${id}`)]);
    // A group is only there as long as layers go through it.
    const buses = sound.buses.filter((bus) => bus.kind === 'shared' || layers.some((layer) => layer.group === bus.id));
    const owners = ['sound', ...layers.map(layerAddress), ...buses.map(({ id }) => `bus/${id}`)];
    const below = (moved: Moved): boolean => isMoverAddress(moved.address) || owners.some((owner) => isOf(moved, owner));
    return { ...bare, layers, buses, automation: sound.automation.filter(below), pulls: sound.pulls.filter(below) };
  }
  if ('group' in part) {
    const members = sound.layers.filter((layer) => layer.group === part.group).map((layer) => ({ ...layer, sends: [] }));
    const buses = sound.buses.filter((bus) => bus.id === part.group).map((bus) => ({ ...bus, muted: false, sends: [] }));
    const layers = withKeys(sound, members, [`bus/${part.group}`]);
    return { ...bare, gain: 0, chain: [], layers, buses, ...moving(sound, [...layers.map(layerAddress), `bus/${part.group}`]) };
  }
  const printed = sound.layers
    .filter((layer) => part.layers.includes(layer.id))
    .map((layer) => ({ ...withoutGroup(layer), muted: false, sends: [] }));
  const layers = withKeys(sound, printed, []);
  return { ...bare, gain: 0, chain: [], buses: [], layers, ...moving(sound, layers.map(layerAddress)) };
}

/** Layers with those that they, or owners behind them, need to hear; these are not heard themselves. */
function withKeys(sound: Sound, layers: readonly Layer[], behind: readonly string[]): Layer[] {
  const all = [...layers];
  const chainOf = (owner: string): Sound['chain'] =>
    owner === 'sound' ? sound.chain : ([...sound.layers, ...sound.buses].find(({ id }) => owner.endsWith(`/${id}`))?.chain ?? []);
  const needed = (owner: string): string[] => keyLayers(sound, owner, chainOf(owner));
  const wanted = [...layers.map(layerAddress), ...behind].flatMap(needed);
  for (let id = wanted.pop(); id !== undefined; id = wanted.pop()) {
    const key = sound.layers.find((layer) => layer.id === id);
    if (!key || all.some((layer) => layer.id === id)) continue;
    all.push({ ...withoutGroup(key), muted: true, sends: [] });
    wanted.push(...needed(layerAddress(key)));
  }
  return all;
}

const layerAddress = ({ id }: Layer): string => `layer/${id}`;
type Moved = Pick<AutomationLane, 'address'>;
const isOf = ({ address }: Moved, owner: string): boolean => address.startsWith(`${owner}/`);

/** The lanes and the pulls of what is printed; what it sends is not printed. */
function moving(sound: Sound, owners: readonly string[]): Pick<Sound, 'automation' | 'pulls'> {
  // Movers stay as they are moved, with everything that they could pull.
  const own = (moved: Moved): boolean =>
    isMoverAddress(moved.address) || owners.some((owner) => isOf(moved, owner) && !isOf(moved, `${owner}/send`));
  return { automation: sound.automation.filter(own), pulls: sound.pulls.filter(own) };
}

/** The layer on its own; what its group and its sends do comes after a print of it. */
function withoutGroup({ group: _group, ...layer }: Layer): Layer {
  return layer;
}

/** Recipes of `count` takes of a part: the sound's sways drawn anew for each, from the sound's seed. */
export function printTakes(sound: Sound, part: PrintedPart, count: number, catalogue: EffectCatalogue): Sound[] {
  const fresh: Sound = { ...sound, family: { ...sound.family, siblings: [] } };
  return Array.from({ length: count }, (_, take) => printRecipe(siblingSound(fresh, take, catalogue), part));
}

/** A rendered print: its samples from where its first clip begins, and that moment. */
export interface RenderedPrint {
  readonly audio: Audio;
  readonly start: Seconds;
}

/**
 * Renders a recipe until it has rung out, or a stretch of the time axis alone. Throws RangeError when there is nothing to hear,
 * Cancelled when `progress` says so.
 */
export function renderPrint(
  recipe: Sound,
  context: RenderContext,
  { progress, range }: Pick<RenderOptions, 'progress'> & { readonly range?: { readonly from: Seconds; readonly to: Seconds } } = {},
): RenderedPrint {
  const rendered = renderSound(recipe, context, { tail: 'ring out', ...(progress && { progress }) });
  const { sampleRate } = context;
  const total = frameCount(rendered);
  const starts = recipe.layers.flatMap((layer) => layer.clips.map((clip) => clip.start));
  const first: Frames = Math.min(total, Math.round((range?.from ?? Math.min(...starts, total)) * sampleRate));
  const last: Frames = Math.min(total, range ? Math.round(range.to * sampleRate) : total);
  if (last <= first) throw new RangeError(`There is nothing to print in “${recipe.name}”.`);
  const channels = rendered.channels.map((channel) => channel.slice(first, last));
  return { audio: { sampleRate, channels }, start: first / sampleRate };
}

/** Puts takes one behind the other with a gap between them. */
export function endToEnd(takes: readonly Audio[], gap: Seconds): Audio {
  const sampleRate = takes[0]?.sampleRate ?? 48_000;
  const between = Math.round(gap * sampleRate);
  const frames = takes.reduce((sum, take) => sum + frameCount(take), 0) + between * Math.max(0, takes.length - 1);
  const channels = Array.from({ length: takes[0]?.channels.length ?? 0 }, (_, c) => {
    const joined = new Float32Array(frames);
    let at = 0;
    for (const take of takes) {
      joined.set(take.channels[c]!, at);
      at += frameCount(take) + between;
    }
    return joined;
  });
  return { sampleRate, channels };
}

/** Makes a source of a print; it remembers its recipe and the sources that went into it. */
export function printSource(
  audio: Audio,
  recipe: Sound,
  { name, part }: { readonly name: string; readonly part: string },
  project: Pick<Project, 'sources'>,
): { source: NewSource; wav: Uint8Array<ArrayBuffer> } {
  const used = usedSources(recipe);
  const sources = project.sources
    .filter((source) => used.has(source.id))
    .map(({ id, name: own, audio: hash }) => ({ id, name: own, audio: hash }));
  const print: Print = { part: part.slice(0, 300), recipe, sources };
  const wav = writeWav(audio, { encoding: '32f' });
  const role = recipe.layers[0]?.role;
  return {
    wav,
    source: {
      kind: 'recording',
      name: name.slice(0, 300),
      audio: hashBytes(wav),
      frames: frameCount(audio),
      channels: audio.channels.length,
      ...(role && { role }),
      tags: ['print'],
      notes: '',
      regions: [],
      cues: [],
      origin: { file: 'printed here', sampleRate: audio.sampleRate, encoding: '32 bit float', print },
    },
  };
}
