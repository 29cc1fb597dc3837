import { inject, Injectable } from '@angular/core';
import type { Project, Seconds, Sound } from '@tangled-choir/core';
import { isStretched, sourceIdentities, treatmentWork, usedSources } from '@tangled-choir/core';
import type { AudioByIdentity, RenderInput } from '@tangled-choir/jobs';
import { wantedTreatments } from '@tangled-choir/jobs';
import { AudioLibrary } from '../engine/audio-library';
import { engineTreats } from '../engine/protocol';
import type { RenderableSound } from '../engine/renderable-sound';
import { TreatedClips } from './treated-clips.store';
import { TreatedPieces } from './treated-pieces.store';

/** Puts together what is needed to play or to render a sound: its recordings, and its clips as they are treated. */
@Injectable()
export class Renderables {
  private readonly library = inject(AudioLibrary);
  private readonly treated = inject(TreatedClips);
  private readonly pieces = inject(TreatedPieces);

  /** A sound with what is ready for it now; signals are read, so that who plays it follows what arrives. */
  ready(project: Project, sound: Sound): RenderableSound {
    const identities = identitiesOf(project, [sound]);
    const audio = this.library.ready(sound, identities);
    const treated = this.treated.ready(sound, identities, audio);
    return { sound, sampleRate: project.sampleRate, identities, audio, treated, pieces: this.pieces.pieces() };
  }

  /**
   * What sounds need, once all of it is there. Rejects when a recording is missing, unless that may be silent: in what leaves the house or is
   * printed, it must not.
   */
  async load(project: Project, sounds: readonly Sound[], missing: 'rejects' | 'is silent' = 'rejects'): Promise<RenderInput> {
    const loading = this.library.loadAll(project, sounds);
    await (missing === 'rejects' ? loading : loading.catch(() => undefined));
    const identities = identitiesOf(project, sounds);
    const audio: AudioByIdentity = new Map(sounds.flatMap((sound) => [...this.library.ready(sound, identities)]));
    const treated = await this.treated.make(wantedTreatments(sounds, identities, audio));
    return { sampleRate: project.sampleRate, identities, audio, treated };
  }

  /** Makes in the background what the engine would take too long for, of the sound or of the version that it is compared with. */
  prepare(by: 'sound' | 'other version', { sound, identities, audio }: RenderableSound): void {
    const long = wantedTreatments([sound], identities, audio).filter(({ clip }) => treatmentWork(clip) > engineTreats);
    this.treated.hold(by, long);
  }

  /** Lets pieces be heard of what is stretched and not there yet, from where the playhead stands. */
  preview({ sound, identities, audio, treated }: RenderableSound, playhead: Seconds): void {
    const missing = wantedTreatments([sound], identities, audio).filter(({ key, clip }) => isStretched(clip) && !treated?.has(key));
    this.pieces.follow(missing, playhead);
  }
}

function identitiesOf(project: Project, sounds: readonly Sound[]): ReadonlyMap<string, string> {
  const used = new Set(sounds.flatMap((sound) => [...usedSources(sound)]));
  return sourceIdentities(project.sources.filter((source) => used.has(source.id)));
}
