import type { Audio } from '../audio/audio';
import type { Project } from '../project/schema';
import type { Frames } from '../units';

/** Sampled audio by its hash, at the project's rate. */
export interface AudioLibrary {
  get(hash: string): Audio | undefined;
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
  /** Audio hashes by source id. */
  readonly hashes: ReadonlyMap<string, string>;
  readonly library: AudioLibrary;
  /** Layers that are not computed, by id. They must be what their layers would give: nobody checks. */
  readonly frozen?: ReadonlyMap<string, FrozenLayer>;
  /** True where nobody listens meanwhile: chains may lag more where that makes them quicker. */
  readonly offline?: boolean;
}

export function renderContext(project: Pick<Project, 'sampleRate' | 'sources'>, library: AudioLibrary): RenderContext {
  return { sampleRate: project.sampleRate, hashes: new Map(project.sources.map((source) => [source.id, source.audio])), library };
}

/** The recording behind a source, if it is there. */
export function sourceAudio({ hashes, library }: RenderContext, source: string): Audio | undefined {
  const hash = hashes.get(source);
  return hash === undefined ? undefined : library.get(hash);
}
