import type { Clip } from '../project/schema';

/** What of a clip decides how its content sounds before fades and gain. */
export type Treatment = Omit<Clip, 'id' | 'source' | 'start' | 'gain' | 'fadeIn' | 'fadeOut' | 'sync' | 'locked' | 'group'>;

/** What of a clip is its treatment, for sending it elsewhere. */
export function treatmentOf(clip: Clip): Treatment {
  const { id: _id, source: _source, start: _start, gain: _gain, fadeIn: _in, fadeOut: _out, sync: _sync, locked: _locked, ...rest } = clip;
  const { group: _group, ...treatment } = rest;
  return treatment;
}
