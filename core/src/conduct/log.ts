import type { Decibels, Hertz, Seconds, Semitones } from '../units';
import { gainToDecibels, ratioToSemitones } from '../units';
import type { ConductData, ConductEvent, WhySkipped } from './conduct-data';

/** One line of what was decided, for people and for other programs. */
export type LogEntry =
  | { readonly at: Seconds; readonly do: 'call'; readonly behaviour: string }
  | {
      readonly at: Seconds;
      readonly do: 'play';
      readonly behaviour: string;
      readonly voice: number;
      readonly asset: string;
      /** Null where it is silent. */
      readonly level: Decibels | null;
      readonly pitch: Semitones;
      readonly highCut: Hertz;
      readonly pan: number;
    }
  | { readonly at: Seconds; readonly do: 'stop' | 'end'; readonly voice: number }
  | { readonly at: Seconds; readonly do: 'skip'; readonly behaviour: string; readonly why: WhySkipped };

/** What was decided, with the names of behaviours; not how voices turned on their way. */
export function conductLog({ behaviours, sampleRate }: ConductData, events: readonly ConductEvent[]): LogEntry[] {
  const names = new Map(behaviours.map(({ id, name }) => [id, name]));
  const nameOf = (id: string): string => names.get(id) ?? id;
  return events.flatMap((event): LogEntry[] => {
    const at = event.frame / sampleRate;
    switch (event.do) {
      case 'call':
        return [{ at, do: 'call', behaviour: nameOf(event.behaviour) }];
      case 'play': {
        const level = gainToDecibels(event.gain);
        return [
          {
            at,
            do: 'play',
            behaviour: nameOf(event.behaviour),
            voice: event.voice,
            asset: event.asset,
            level: Number.isFinite(level) ? rounded(level) : null,
            pitch: rounded(ratioToSemitones(event.ratio)),
            highCut: Math.round(event.highCut),
            pan: rounded(event.pan),
          },
        ];
      }
      case 'stop':
      case 'end':
        return [{ at, do: event.do, voice: event.voice }];
      case 'skip':
        return [{ at, do: 'skip', behaviour: nameOf(event.behaviour), why: event.why }];
      case 'turn':
        return [];
    }
  });
}

const rounded = (value: number): number => Math.round(value * 1_000) / 1_000 || 0;
