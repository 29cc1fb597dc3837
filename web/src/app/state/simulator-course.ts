import { inject, Injectable } from '@angular/core';
import type { ConductData, ConductEvent, Foreseen, VoiceSpan } from '@tangled-choir/core';
import { ConductEngine, followVoices, foresee } from '@tangled-choir/core';
import { ConductTakes } from './conduct-takes.store';
import { Simulator } from './simulator.store';

/** A voice that has sounded, that will, or that would if its behaviour were called. */
export interface CourseSpan {
  readonly behaviour: string;
  readonly span: VoiceSpan;
  readonly when: 'past' | 'coming' | 'assumed';
}

/** How far ahead is looked, in seconds, and how much of that must be left before it is looked anew. */
const lookAhead = 14;
const keptAhead = 12.5;
/** When what was not called yet is taken to be called. */
const firstCall = 0.6;

/** What was played around now, and what comes: worked out anew whenever something changes it. */
@Injectable()
export class SimulatorCourse {
  private readonly simulator = inject(Simulator);
  private readonly takes = inject(ConductTakes);
  private foreseen: { readonly from: number; readonly revision: number; readonly data: ConductData; readonly of: Foreseen } | undefined;
  private lines: { readonly data: ConductData; readonly of: ReadonlyMap<string, readonly string[]> } | undefined;

  /** A behaviour with all that lies within it, by id. */
  lineOf(id: string): readonly string[] {
    const data = this.takes.data();
    if (!data) return [id];
    if (this.lines?.data.behaviours !== data.behaviours) {
      const within = new Map<string, string[]>(data.behaviours.map((behaviour) => [behaviour.id, []]));
      const parents = new Map(data.behaviours.map((behaviour) => [behaviour.id, behaviour.parent]));
      for (const behaviour of data.behaviours)
        for (let at: string | undefined = behaviour.id; at !== undefined; at = parents.get(at)) within.get(at)?.push(behaviour.id);
      this.lines = { data, of: within };
    }
    return this.lines.of.get(id) ?? [id];
  }

  /** All voices from so many seconds before now to so many after it. */
  around(before: number, after: number): { readonly spans: readonly CourseSpan[]; readonly frame: number; readonly sampleRate: number } {
    const data = this.takes.data();
    const frame = this.simulator.frame();
    const sampleRate = data?.sampleRate ?? 48_000;
    if (!data) return { spans: [], frame, sampleRate };
    const oldest = frame - before * sampleRate;
    const past = new Map<number, VoiceSpan>();
    followVoices(past, this.simulator.events());
    const { of } = this.ahead(data, frame);
    const known = new Set(past.keys());
    followVoices(past, of.coming);
    const called = new Map<number, VoiceSpan>();
    followVoices(called, of.called);
    const assumed = new Set([...of.assumed].flatMap((root) => this.lineOf(root)));
    const spans: CourseSpan[] = [
      ...[...past.values()].map((span) => ({
        behaviour: span.behaviour,
        span,
        when: known.has(span.voice) ? ('past' as const) : ('coming' as const),
      })),
      ...[...called.values()]
        .filter(({ behaviour }) => assumed.has(behaviour))
        .map((span) => ({ behaviour: span.behaviour, span, when: 'assumed' as const })),
    ];
    const latest = frame + after * sampleRate;
    return { spans: spans.filter(({ span: { from, to } }) => (to === undefined || to >= oldest) && from <= latest), frame, sampleRate };
  }

  private ahead(data: ConductData, frame: number): { readonly of: Foreseen } {
    const revision = this.simulator.revision();
    const known = this.foreseen;
    const left = known ? known.from + lookAhead * data.sampleRate - frame : 0;
    if (known?.revision === revision && known.data === data && left > keptAhead * data.sampleRate) return known;
    const engine = this.simulator.engine() ?? this.fresh(data);
    const past: readonly ConductEvent[] = this.simulator.events();
    const of = foresee(engine, past, lookAhead * data.sampleRate, firstCall * data.sampleRate);
    this.foreseen = { from: frame, revision, data, of };
    return this.foreseen;
  }

  /** An engine at its beginning, with what was set. */
  private fresh(data: ConductData): ConductEngine {
    const engine = new ConductEngine(data);
    engine.move({ do: 'listener', ...this.simulator.listener() });
    for (const [parameter, value] of this.simulator.values()) engine.move({ do: 'set', parameter, value });
    for (const [emitter, place] of this.simulator.emitters()) engine.move({ do: 'emitter', emitter, ...place });
    return engine;
  }
}
