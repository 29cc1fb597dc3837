import {
  alternativesAddress,
  findProperty,
  isSomeAddress,
  orderAddress,
  presenceAddress,
  swingAddress,
  swingParameter,
  writeProperty,
} from '../project/address';
import { mapSteps } from '../project/chain/chain-tree';
import type { EffectStep } from '../project/chain/chain-schema';
import { fitFades } from '../project/edits/clip-edits';
import { offsetValue } from '../project/offset';
import type { EffectCatalogue, Parameter } from '../project/parameters';
import { copyPatch } from '../project/patch/copy-patch';
import type { Alternative, Clip, Layer, Sound } from '../project/schema';
import type { Seconds } from '../units';
import type { Draw, Draws } from './draw';
import { drawSibling } from './draw';
import { settled } from './settled';

/**
 * The sound with draws taken: clips play what was drawn, in the drawn order and swing, offsets are added to their properties, choices have their values, absent layers
 * are muted. Draws that lead nowhere any more are ignored.
 */
export function takeDraws(sound: Sound, draws: Draws, catalogue: EffectCatalogue): Sound {
  const taken = structuredCopy(sound);
  const arranged = arrange(taken, draws);
  for (const [address, draw] of Object.entries(draws)) {
    if (arranged.has(address) || typeof draw === 'object') continue;
    // What moves along a lane is moved with its whole lane.
    const lane = taken.automation.find((candidate) => candidate.address === address && candidate.enabled);
    if (lane && typeof draw === 'number') {
      lane.trim += draw;
      continue;
    }
    const property = findProperty(taken, address, catalogue);
    if (!property) continue;
    const { parameter, value } = property;
    if (typeof draw !== 'number') {
      if (isValueOf(parameter, draw)) writeProperty(taken, address, draw, catalogue);
    } else if (parameter.kind === 'number' && typeof value === 'number')
      writeProperty(taken, address, settled(offsetValue(parameter, value, draw)), catalogue);
  }
  return taken;
}

function isValueOf(parameter: Parameter, draw: string | boolean): boolean {
  return typeof draw === 'boolean' ? parameter.kind === 'switch' : parameter.kind === 'choice' && parameter.options.includes(draw);
}

/** A sibling as a sound of its own, ready to render. */
export function siblingSound(sound: Sound, index: number, catalogue: EffectCatalogue): Sound {
  return takeDraws(sound, drawSibling(sound, index), catalogue);
}

/** What of a sound is drawn that is no property: changes the draft, and gives the addresses that it has seen to. */
function arrange(draft: Sound, draws: Draws): ReadonlySet<string> {
  const seen = new Set<string>();
  const drawn = (address: string): Draw | undefined => {
    if (Object.hasOwn(draws, address)) seen.add(address);
    return Object.hasOwn(draws, address) ? draws[address] : undefined;
  };
  for (const layer of draft.layers) {
    for (const clip of layer.clips) {
      const stretch = drawn(alternativesAddress(layer.id, clip.id));
      if (typeof stretch === 'object') playStretch(clip, stretch);
    }
    const order = drawn(orderAddress(layer.id));
    if (typeof order === 'string') reorder(layer, order.split(' '));
    const swing = drawn(swingAddress(layer.id));
    if (typeof swing === 'number') swingBy(layer, swing);
    if (drawn(presenceAddress(layer.id)) === 0) layer.muted = true;
  }
  for (const address of Object.keys(draws).filter(isSomeAddress)) {
    const absent = String(drawn(address)).split(' ');
    for (const layer of draft.layers) if (absent.includes(layer.id)) layer.muted = true;
  }
  return seen;
}

/** Puts clips where others were: those that are named, in this order, into the places that they have together. */
function reorder({ clips }: Layer, order: readonly string[]): void {
  const named = order.flatMap((id) => clips.filter((clip) => clip.id === id));
  const starts = named.map(({ start }) => start).sort((a, b) => a - b);
  for (const [place, clip] of named.entries()) clip.start = starts[place]!;
}

/** Makes every second clip later, or earlier, by a part of its distance to the next; the last one, by as much of that to the one before. */
function swingBy({ clips }: Layer, amount: number): void {
  const inOrder = clips.toSorted((a, b) => a.start - b.start);
  const starts = inOrder.map(({ start }) => start);
  const part = Math.min(swingParameter.max, Math.max(swingParameter.min, amount));
  for (let i = 1; i < inOrder.length; i += 2) {
    const gap = (starts[i + 1] ?? 2 * starts[i]! - starts[i - 1]!) - starts[i]!;
    inOrder[i]!.start = Math.max(0, starts[i]! + part * gap);
  }
}

/** Shorter is nothing: a piece of a clip for which an alternative is too short plays so much of its end. */
const shortest: Seconds = 0.001;

/**
 * Lets a clip play another stretch of a source; what was said of moments of the one that it plays otherwise holds no longer. A piece of what the clip was plays as
 * much of the alternative, so that a cut stays unheard; the piece that goes on to the end plays the alternative to its end.
 */
function playStretch(clip: Clip, { source, from, to, over }: Alternative): void {
  if (clip.source === undefined) return;
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
