import type * as z from 'zod';
import { findProperty, isAutomatable, isPullable } from './address';
import { deepestHost } from './chain/chain-tree';
import { findConductFault } from './game/conduct-faults';
import { migrate } from './migrate';
import type { EffectCatalogue, EffectDescription } from './parameters';
import { faultsOf } from './parameters';
import { findPatchFault } from './patch/patch-faults';
import type { EffectStep } from './chain/chain-schema';
import type { Alternative, Family, Layer, Project, Sound } from './schema';
import type { Seconds } from '../units';
import { documentFormat, documentVersion, projectSchema } from './schema';

/** Data from outside that is not what it should be. The message tells a person what is wrong and where. */
export class DataError extends Error {
  override readonly name = 'DataError';
}

const forbiddenKeys = new Set(['__proto__', 'constructor', 'prototype']);

/** Parses JSON text; refuses keys that would reach into an object's prototype. Throws DataError. */
export function parseJson(text: string, what: string): unknown {
  try {
    return JSON.parse(text, (key, value: unknown) => {
      if (forbiddenKeys.has(key)) throw new DataError(`${what} contains the key “${key}”, which is not allowed.`);
      return value;
    });
  } catch (error) {
    if (error instanceof DataError) throw error;
    throw new DataError(`${what} is not valid JSON: ${error instanceof Error ? error.message : String(error)}`);
  }
}

/** What is wrong may be a whole book in the place of a name. */
const longestFault = 800;
const bounded = (text: string): string => (text.length > longestFault ? `${text.slice(0, longestFault)}…` : text);

/** One sentence about the first faults that Zod found, each with its place in the data. */
export function describeIssues(error: z.ZodError, what: string): string {
  const shown = error.issues.slice(0, 3).map((issue) => {
    const place = issue.path
      .map((part) => (typeof part === 'number' ? `[${part}]` : `.${String(part)}`))
      .join('')
      .replace(/^\./, '');
    return `${place || 'the whole'}: ${issue.message}`;
  });
  const told = bounded(shown.join('; '));
  const more = error.issues.length > 3 ? ` (and ${error.issues.length - 3} more)` : '';
  return `${what} does not fit: ${told}${more}`;
}

/**
 * Validates a project document: shape, version, unique ids, references between its parts, known effects with fitting parameters.
 * Throws DataError.
 */
export function parseProject(data: unknown, catalogue: EffectCatalogue, what = 'The project'): Project {
  if (typeof data !== 'object' || data === null || !('format' in data) || data.format !== documentFormat)
    throw new DataError(`${what} is not a Tangled Choir project: “format” is not “${documentFormat}”.`);
  const version = 'version' in data ? data.version : undefined;
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1 || version > documentVersion)
    throw new DataError(`${what} has version ${JSON.stringify(version)}; this application reads versions 1 to ${documentVersion}.`);
  const migrated = migrate(data, version);
  if ('error' in migrated) throw new DataError(describeIssues(migrated.error, what));
  const parsed = parseNested(projectSchema, migrated.data, what);
  if (!parsed.success) throw new DataError(describeIssues(parsed.error, what));
  const fault = findFault(parsed.data, catalogue);
  if (fault) throw new DataError(`${what} does not fit: ${bounded(fault)}`);
  return parsed.data;
}

/** Chains lie within chains; data that goes on and on inwards must not bring the application down. */
export function parseNested<S extends z.ZodType>(schema: S, data: unknown, what: string): z.ZodSafeParseResult<z.infer<S>> {
  try {
    return schema.safeParse(data);
  } catch (error) {
    if (error instanceof RangeError) throw new DataError(`${what} has hosts within hosts that go on too deep.`);
    throw error;
  }
}

/** A loop must be longer than a sample at any rate: it would go round for ever. */
const shortestLoop: Seconds = 0.0005;

function findFault(project: Project, catalogue: EffectCatalogue): string | undefined {
  const seen = new Set<string>();
  const repeated = (id: string, place: string): string | undefined => {
    if (seen.has(id)) return `${place}: the id “${id}” is used twice`;
    seen.add(id);
    const number = /-(\d+)$/.exec(id);
    return number && Number(number[1]) > project.counter ? `${place}: the id “${id}” is above the counter ${project.counter}` : undefined;
  };
  const sources = new Set(project.sources.map((source) => source.id));
  for (const [s, source] of project.sources.entries()) {
    const fault = repeated(source.id, `sources[${s}]`);
    if (fault) return fault;
    for (const [r, region] of source.regions.entries()) {
      const regionFault = repeated(region.id, `sources[${s}].regions[${r}]`);
      if (regionFault) return regionFault;
      if (!(region.to > region.from)) return `sources[${s}].regions[${r}]: it ends before it begins`;
    }
    // A recipe keeps the ids of the layers that it was printed from, which may still be there.
    const { recipe } = source.origin.print ?? {};
    for (const chain of recipe ? [recipe.chain, ...recipe.layers.map((layer) => layer.chain)] : []) {
      const recipeFault = findChainFault(chain, `sources[${s}].origin.print.recipe.chain`, catalogue, () => undefined);
      if (recipeFault) return recipeFault;
    }
  }
  for (const [t, template] of project.templates.entries()) {
    const place = `templates[${t}]`;
    const fault = repeated(template.id, place) ?? findChainFault(template.chain, `${place}.chain`, catalogue, repeated);
    if (fault) return fault;
  }
  for (const [p, preset] of project.presets.entries()) {
    const place = `presets[${p}]`;
    const fault = repeated(preset.id, place) ?? findChainFault(preset.chain, `${place}.chain`, catalogue, repeated);
    if (fault) return fault;
  }
  const sounds = new Set(project.sounds.map(({ id }) => id));
  for (const [d, delivery] of project.deliveries.entries()) {
    const fault = repeated(delivery.id, `deliveries[${d}]`);
    if (fault) return fault;
    const unknown = delivery.sounds?.find((id) => !sounds.has(id));
    if (unknown !== undefined) return `deliveries[${d}].sounds: there is no sound “${unknown}”`;
  }
  for (const [s, sound] of project.sounds.entries()) {
    const place = `sounds[${s}]`;
    const fault = repeated(sound.id, place) ?? findChainFault(sound.chain, `${place}.chain`, catalogue, repeated);
    if (fault) return fault;
    for (const [l, layer] of sound.layers.entries()) {
      const layerPlace = `${place}.layers[${l}]`;
      const layerFault = repeated(layer.id, layerPlace) ?? findChainFault(layer.chain, `${layerPlace}.chain`, catalogue, repeated);
      if (layerFault) return layerFault;
      const patchFault = layer.patch && findPatchFault(layer.patch, `${layerPlace}.patch`, catalogue);
      if (patchFault) return patchFault;
      for (const [c, clip] of layer.clips.entries()) {
        const clipFault = repeated(clip.id, `${layerPlace}.clips[${c}]`);
        if (clipFault) return clipFault;
        if ((clip.notes !== undefined) === (clip.source !== undefined))
          return `${layerPlace}.clips[${c}]: it must have either a source or notes`;
        if ((clip.notes !== undefined) !== (layer.patch !== undefined))
          return `${layerPlace}.clips[${c}]: notes lie on layers with a patch, recordings on all others`;
        if (clip.source !== undefined && !sources.has(clip.source)) return `${layerPlace}.clips[${c}]: there is no source “${clip.source}”`;
        if (clip.loop && !(clip.loop.to - clip.loop.from >= shortestLoop))
          return `${layerPlace}.clips[${c}].loop: it goes from ${clip.loop.from} to ${clip.loop.to} s, which is no length to repeat`;
      }
    }
    if (sound.guide && !sources.has(sound.guide.source)) return `${place}.guide: there is no source “${sound.guide.source}”`;
    const structureFault =
      findBusFault(sound, place, catalogue, repeated) ??
      findAutomationFault(sound, place, catalogue, repeated) ??
      findMoverFault(sound, place, catalogue, repeated);
    if (structureFault) return structureFault;
    for (const [m, mark] of sound.marks.entries()) {
      const markFault = repeated(mark.id, `${place}.marks[${m}]`);
      if (markFault) return markFault;
    }
    const familyFault = findFamilyFault(sound.family, `${place}.family`, sources, repeated);
    if (familyFault) return familyFault;
  }
  return findConductFault(project.conduct, sounds, repeated);
}

type Repeated = (id: string, place: string) => string | undefined;

/** What siblings may play, and what kept ones do play, must be stretches of sources that are there. */
function findFamilyFault({ sways, siblings }: Family, place: string, sources: ReadonlySet<string>, repeated: Repeated): string | undefined {
  const stretchFault = ({ source, from, to }: Alternative, own: string): string | undefined => {
    if (!sources.has(source)) return `${own}: there is no source “${source}”`;
    return to > from ? undefined : `${own}: it ends before it begins`;
  };
  for (const [w, sway] of sways.entries()) {
    const own = `${place}.sways[${w}]`;
    const swayFault = repeated(sway.id, own);
    if (swayFault) return swayFault;
    if (sway.kind === 'some' && sway.least > sway.most) return `${own}: it wants at least ${sway.least} layers and at most ${sway.most}`;
    for (const [o, each] of (sway.kind === 'alternatives' ? sway.of : []).entries()) {
      const fault = stretchFault(each, `${own}.of[${o}]`);
      if (fault) return fault;
    }
  }
  for (const [s, { draws }] of siblings.entries())
    for (const [address, draw] of Object.entries(draws ?? {})) {
      const fault = typeof draw !== 'object' ? undefined : stretchFault(draw, `${place}.siblings[${s}].draws[“${address}”]`);
      if (fault) return fault;
    }
  return undefined;
}

/** Groups and buses must be there, and lead onwards: layers into groups, layers and groups to shared buses. */
function findBusFault(sound: Sound, place: string, catalogue: EffectCatalogue, repeated: Repeated): string | undefined {
  const kinds = new Map(sound.buses.map((bus) => [bus.id, bus.kind]));
  const sendFault = (sends: Layer['sends'], own: string): string | undefined => {
    const wrong = sends.find(({ bus }, index) => kinds.get(bus) !== 'shared' || sends.findIndex((send) => send.bus === bus) !== index);
    return wrong && `${own}.sends: “${wrong.bus}” is no shared bus, or is sent to twice`;
  };
  for (const [b, bus] of sound.buses.entries()) {
    const own = `${place}.buses[${b}]`;
    const fault = repeated(bus.id, own) ?? findChainFault(bus.chain, `${own}.chain`, catalogue, repeated) ?? sendFault(bus.sends, own);
    if (fault) return fault;
    if (bus.kind === 'shared' && bus.sends.length > 0) return `${own}.sends: a shared bus cannot send on`;
  }
  for (const [l, layer] of sound.layers.entries()) {
    const own = `${place}.layers[${l}]`;
    if (layer.group !== undefined && kinds.get(layer.group) !== 'group') return `${own}.group: there is no group “${layer.group}”`;
    const fault = sendFault(layer.sends, own);
    if (fault) return fault;
  }
  return undefined;
}

function findAutomationFault(sound: Sound, place: string, catalogue: EffectCatalogue, repeated: Repeated): string | undefined {
  const addresses = new Set<string>();
  for (const [a, lane] of sound.automation.entries()) {
    const own = `${place}.automation[${a}]`;
    const fault = repeated(lane.id, own);
    if (fault) return fault;
    const property = findProperty(sound, lane.address, catalogue);
    if (!property || !isAutomatable(property)) return `${own}: “${lane.address}” leads to nothing that can be automated`;
    if (addresses.has(lane.address)) return `${own}: “${lane.address}” has a lane already`;
    addresses.add(lane.address);
    if (lane.points.some((point, p) => p > 0 && point.time < lane.points[p - 1]!.time))
      return `${own}.points: they are not in order of time`;
  }
  return undefined;
}

function findMoverFault(sound: Sound, place: string, catalogue: EffectCatalogue, repeated: Repeated): string | undefined {
  for (const [m, mover] of sound.movers.entries()) {
    const fault = repeated(mover.id, `${place}.movers[${m}]`);
    if (fault) return fault;
  }
  for (const [p, pull] of sound.pulls.entries()) {
    const own = `${place}.pulls[${p}]`;
    const fault = repeated(pull.id, own);
    if (fault) return fault;
    if (!sound.movers.some((mover) => mover.id === pull.mover)) return `${own}: there is no mover “${pull.mover}”`;
    const property = findProperty(sound, pull.address, catalogue);
    if (!property || !isPullable(property)) return `${own}: “${pull.address}” leads to nothing that can be pulled`;
  }
  return undefined;
}

/** What is wrong with a chain: unknown effects, values that do not fit, hosts with too few, too many or too deep branches. */
export function findChainFault(
  chain: readonly EffectStep[],
  place: string,
  catalogue: EffectCatalogue,
  repeated: Repeated,
  depth = 0,
): string | undefined {
  if (depth > deepestHost) return `${place}: hosts lie more than ${deepestHost} deep within each other`;
  for (const [i, step] of chain.entries()) {
    const own = `${place}[${i}]`;
    const fault = repeated(step.id, own);
    if (fault) return fault;
    const effect = catalogue.get(step.effect);
    if (!effect) return `${own}: there is no effect “${step.effect}”`;
    const [parameterFault] = faultsOf(effect.parameters, step.parameters);
    if (parameterFault) return `${own} (${effect.label}): ${parameterFault}`;
    const branchFault = findBranchFault(step, effect, own, catalogue, repeated, depth);
    if (branchFault) return branchFault;
  }
  return undefined;
}

function findBranchFault(
  { branches }: EffectStep,
  { host, label }: EffectDescription,
  place: string,
  catalogue: EffectCatalogue,
  repeated: Repeated,
  depth: number,
): string | undefined {
  if (!host) return branches && `${place} (${label}): it holds no branches`;
  const count = branches?.length ?? 0;
  if (count < host.least || count > host.most)
    return `${place} (${label}): it has ${count} ${host.branch}s, not ${host.least} to ${host.most}`;
  for (const [b, branch] of (branches ?? []).entries()) {
    const own = `${place}.branches[${b}]`;
    const fault = repeated(branch.id, own) ?? findChainFault(branch.chain, `${own}.chain`, catalogue, repeated, depth + 1);
    if (fault) return fault;
  }
  return undefined;
}
