import type { Audio } from '../audio/audio';
import type { Project } from '../project/schema';

/** Sampled audio by its hash, at the project's rate. */
export interface AudioLibrary {
  get(hash: string): Audio | undefined;
}

/** What a render needs to know of the project around a sound. */
export interface RenderContext {
  readonly sampleRate: number;
  /** Audio hashes by source id. */
  readonly hashes: ReadonlyMap<string, string>;
  readonly library: AudioLibrary;
}

export function renderContext(project: Pick<Project, 'sampleRate' | 'sources'>, library: AudioLibrary): RenderContext {
  return { sampleRate: project.sampleRate, hashes: new Map(project.sources.map((source) => [source.id, source.audio])), library };
}

/** The recording behind a source, if it is there. */
export function sourceAudio({ hashes, library }: RenderContext, source: string): Audio | undefined {
  const hash = hashes.get(source);
  return hash === undefined ? undefined : library.get(hash);
}
