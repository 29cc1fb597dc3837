import type { Audio } from '../audio/audio';
import type { Project } from '../project/schema';
import { sourceIdentities } from '../project/sources';
import type { TreatedAudio, TreatedPieces } from '../treatments/treat-clip';
import type { Frames } from '../units';

/** Sampled audio by the identity of its source, at the project's rate: whatever a source is, here it has become audio. */
export interface AudioLibrary {
  get(identity: string): Audio | undefined;
}

/** What a layer gives behind its chain and in front of its fader, played in the place of both. */
export interface FrozenLayer {
  /** Tells it apart from others, also where it arrives as a copy. */
  readonly identity: string;
  readonly channels: readonly Float32Array[];
  /** Where on the time axis it begins; silence before and after it. */
  readonly start: Frames;
}

/** What a render needs to know of the project around a sound. */
export interface RenderContext {
  readonly sampleRate: number;
  /** Identities of sources by their ids. */
  readonly identities: ReadonlyMap<string, string>;
  readonly library: AudioLibrary;
  /** Treated clips that were made already. */
  readonly treated?: TreatedAudio;
  /** What is heard of treated clips until they are there; only for listening. */
  readonly pieces?: TreatedPieces;
  /** Layers that are not computed, by id. They must be what their layers would give: nobody checks. */
  readonly frozen?: ReadonlyMap<string, FrozenLayer>;
  /** True where nobody listens meanwhile: chains may lag more where that makes them quicker. */
  readonly offline?: boolean;
}

export function renderContext(project: Pick<Project, 'sampleRate' | 'sources'>, library: AudioLibrary): RenderContext {
  return { sampleRate: project.sampleRate, identities: sourceIdentities(project.sources), library };
}

/** The recording behind a source, if it is there. */
export function sourceAudio({ identities, library }: RenderContext, source: string): Audio | undefined {
  const identity = identities.get(source);
  return identity === undefined ? undefined : library.get(identity);
}
