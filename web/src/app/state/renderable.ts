import type { Project, Sound } from '@tangled-choir/core';
import { usedSources } from '@tangled-choir/core';
import type { AudioLibrary } from '../engine/audio-library';
import type { RenderableSound } from '../engine/protocol';

/** A sound with the recordings that are ready for it. */
export function renderable(project: Project, sound: Sound, library: AudioLibrary): RenderableSound {
  const used = usedSources(sound);
  const hashes = new Map(project.sources.filter((source) => used.has(source.id)).map((source) => [source.id, source.audio]));
  return { sound, sampleRate: project.sampleRate, hashes, audio: library.ready(sound, hashes) };
}
