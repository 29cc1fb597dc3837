import { inject, Injectable } from '@angular/core';
import type { Clip, LandingPoints, Layer, Source, SyncKind, SyncPoint } from '@tangled-choir/core';
import { AudioLibrary } from '../../engine/audio-library';
import { ProjectJobs } from '../../engine/project-jobs';
import { DocumentStore } from '../../state/project/document.store';

/** Finds sync points in the audio that clips show; what was found once is remembered. */
@Injectable()
export class LandingFinder {
  private readonly document = inject(DocumentStore);
  private readonly library = inject(AudioLibrary);
  private readonly jobs = inject(ProjectJobs);
  private readonly known = new Map<string, Promise<LandingPoints>>();

  /** The point of one kind; undefined when the clip has none, such as a transient in a steady wind. Rejects without audio. */
  async find(clip: Clip, kind: Exclude<SyncKind, 'by hand' | 'end'>): Promise<SyncPoint | undefined> {
    const points = await this.points(clip);
    const at = { transient: points.transient, peak: points.peak, 'end of rise': points.endOfRise }[kind];
    return at === undefined ? undefined : { at, kind };
  }

  /** The point that a clip should land by: its own, or what suits its role: the end of a Motion, the transient of all others, else the peak. */
  async best(clip: Clip, layer: Layer): Promise<SyncPoint> {
    if (clip.sync) return clip.sync;
    const points = await this.points(clip);
    if (layer.role === 'Motion') return { at: points.endOfRise, kind: 'end of rise' };
    return points.transient === undefined ? { at: points.peak, kind: 'peak' } : { at: points.transient, kind: 'transient' };
  }

  /** The moments at which something strikes in what a clip shows, in its source's own time. Rejects without audio. */
  async attacks(clip: Clip): Promise<readonly number[]> {
    const { source, from, to } = this.shownPart(clip);
    const audio = await this.library.load(source, [{ from, to }]);
    return this.jobs.run('attacks', { audio, from, to }, `Finding what strikes in ${source.name}`, { quiet: true });
  }

  private shownPart(clip: Clip): { readonly source: Source; readonly from: number; readonly to: number } {
    const project = this.document.project();
    const source = project?.sources.find((candidate) => candidate.id === clip.source);
    if (!project || !source) throw new Error('The source of this clip is missing.');
    const to = Math.min(clip.loop ? clip.loop.to : clip.offset + clip.length, source.frames / project.sampleRate);
    return { source, from: clip.offset, to };
  }

  private async points(clip: Clip): Promise<LandingPoints> {
    const { source, from, to } = this.shownPart(clip);
    const key = `${source.audio}|${from}|${to}`;
    let found = this.known.get(key);
    if (!found) {
      found = this.look(source, from, to);
      found.catch(() => this.known.delete(key));
      this.known.set(key, found);
    }
    return found;
  }

  private async look(source: Source, from: number, to: number): Promise<LandingPoints> {
    const audio = await this.library.load(source, [{ from, to }]);
    return this.jobs.run('landing', { audio, from, to }, `Finding where ${source.name} lands`, { quiet: true });
  }
}
