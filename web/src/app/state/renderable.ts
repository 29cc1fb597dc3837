import type { Project, Sound } from '@tangled-choir/core';
import { sourceIdentities, usedSources } from '@tangled-choir/core';
import type { AudioLibrary } from '../engine/audio-library';
import type { RenderableSound } from '../engine/protocol';

/** A sound with the recordings that are ready for it. */
export function renderable(project: Project, sound: Sound, library: AudioLibrary): RenderableSound {
  const used = usedSources(sound);
  const identities = sourceIdentities(project.sources.filter((source) => used.has(source.id)));
  return { sound, sampleRate: project.sampleRate, identities, audio: library.ready(sound, identities) };
}
