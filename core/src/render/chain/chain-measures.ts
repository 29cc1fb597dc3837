import type { Audio } from '../../audio/audio';
import { effectsById } from '../../effects';
import type { Effect, Inputs } from '../../effects/effect';
import { fromAxis } from '../../project/axis';
import type { ParameterValues } from '../../project/parameters';
import { inTempo, resolveValues } from '../../project/parameters';
import type { Reference } from '../../project/chain/references';
import { readReference } from '../../project/chain/references';
import type { Branch, EffectStep } from '../../project/chain/chain-schema';
import type { Frames, Hertz } from '../../units';
import type { Moves, OwnReaders } from '../automation';
import { noMoves } from '../automation';

/** What tails depend on besides the chain. */
export interface TailContext {
  readonly sampleRate: Hertz;
  /** A recording by the id of its source. */
  readonly source?: (id: string) => Audio | undefined;
}

/** The recordings that a step takes, by the parameters that refer to them. */
export function stepRecordings(effect: Effect, values: ParameterValues, { source }: Pick<TailContext, 'source'>): Inputs<Audio> {
  const recordings: Record<string, Audio> = {};
  for (const [name, { id }] of stepReferences(effect, values, 'source')) {
    const recording = source?.(id);
    if (recording) recordings[name] = recording;
  }
  return recordings;
}

/** What the parameters of an effect refer to, of layers (and groups) or of sources, by their names. */
export function stepReferences(effect: Effect, values: ParameterValues, to: 'layer' | 'source'): [name: string, reference: Reference][] {
  return Object.entries(effect.parameters).flatMap(([name, parameter]): [string, Reference][] => {
    const reference = parameter.kind === 'reference' && parameter.to === to ? readReference(values[name]) : undefined;
    return reference ? [[name, reference]] : [];
  });
}

/** Frames that a chain goes on sounding after its input has ended; with automation, the longest that any of its points asks for. */
export function chainTail(chain: readonly EffectStep[], context: TailContext, automation?: Moves, owner = ''): Frames {
  const { sampleRate } = context;
  return chain.reduce((sum, step) => {
    const effect = step.enabled ? effectsById.get(step.effect) : undefined;
    if (!effect) return sum;
    const longest = effectTail(effect, step, context, automation?.bpm ?? noMoves.bpm, automation?.below(`${owner}/chain/${step.id}`) ?? []);
    const within = (step.branches ?? []).map(
      (branch) => branchDelay(branch, sampleRate) + chainTail(branch.chain, context, automation, owner),
    );
    return sum + longest + Math.max(0, ...within);
  }, 0);
}

/**
 * Frames that an effect goes on sounding. Of each lane, one after the other, the value is taken that asks for the longest; twice, since what the first
 * asks for can depend on those behind it.
 */
function effectTail(effect: Effect, step: EffectStep, context: TailContext, bpm: number, lanes: OwnReaders): Frames {
  const { parameters } = effect;
  const stored = resolveValues(parameters, step.parameters);
  const recordings = stepRecordings(effect, stored, context);
  // Counted in notes only now: a lane may say which.
  const tailWith = (values: ParameterValues): Frames =>
    effect.tail(inTempo(parameters, { ...values }, bpm), context.sampleRate, recordings);
  const moving = lanes.filter(({ key }) => key !== 'mix');
  let values: ParameterValues = stored;
  let longest = tailWith(values);
  for (const { key, parameter, reader } of moving.length > 1 ? [...moving, ...moving] : moving) {
    for (const value of new Set(reader.extremes())) {
      const candidate = { ...values, [key]: fromAxis(parameter, value) };
      const tail = tailWith(candidate);
      if (tail <= longest) continue;
      longest = tail;
      values = candidate;
    }
  }
  return longest;
}

/** What latencies depend on besides the chain: the rate, and whether nobody listens meanwhile. */
export interface LatencyContext {
  readonly sampleRate: Hertz;
  readonly offline?: boolean;
}

/** Frames by which a chain lags. */
export function chainLatency(chain: readonly EffectStep[], context: LatencyContext): Frames {
  return chain.reduce((sum, step) => sum + stepLatency(step, context), 0);
}

/** Frames by which one step lags: a host as much as the slowest of its branches. */
export function stepLatency(step: EffectStep, context: LatencyContext): Frames {
  const effect = effectsById.get(step.effect);
  const own = effect?.latency(resolveValues(effect.parameters, step.parameters), context.sampleRate, context.offline) ?? 0;
  return own + branchLatency(step, context);
}

/** Frames by which the slowest branch of a host lags. */
export function branchLatency({ branches = [] }: EffectStep, context: LatencyContext): Frames {
  return branches.reduce((most, branch) => Math.max(most, chainLatency(branch.chain, context)), 0);
}

/** How much later a branch is heard on purpose. */
export function branchDelay({ delay }: Branch, sampleRate: Hertz): Frames {
  return Math.round(delay * sampleRate);
}

/** What of a chain cannot change without building it anew: its steps, their latencies, and what they are built from. */
export function chainStructure(chain: readonly EffectStep[], sampleRate: Hertz): string {
  return JSON.stringify(chain.map((step) => stepStructure(step, sampleRate)));
}

function stepStructure(step: EffectStep, sampleRate: Hertz): unknown {
  const parameters = Object.entries(effectsById.get(step.effect)?.parameters ?? {});
  const built = parameters.flatMap(([key, { kind, builds }]) => (builds || kind === 'reference' ? [key, step.parameters[key]] : []));
  const branches = (step.branches ?? []).map((branch) => [branch.id, branch.delay, chainStructure(branch.chain, sampleRate)]);
  return [step.id, step.effect, stepLatency(step, { sampleRate }), built, branches];
}
