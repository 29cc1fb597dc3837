import { inject, Injectable, signal } from '@angular/core';
import type { Clip, HeardPitch, Note, PitchReader, PitchTrack, Seconds, Source } from '@tangled-choir/core';
import { clipNote, contentPlace, heardPitchAt, pitchAt } from '@tangled-choir/core';
import { AudioLibrary } from '../engine/audio-library';
import { ProjectJobs } from '../engine/project-jobs';
import { DocumentStore } from './project/document.store';
import { WorkbenchStore } from './workbench.store';

/** Pitch is tracked in parts of this length, as they are looked at. */
const partLength: Seconds = 20;
const hop: Seconds = 0.01;
/** So many parts are remembered: a day, in 64 MB. */
const mostParts = 4_000;

/** The pitch of sources over time, tracked in the background wherever it is asked for, and whether it is drawn. */
@Injectable()
export class PitchTracks {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly library = inject(AudioLibrary);
  private readonly jobs = inject(ProjectJobs);
  private readonly parts = signal<ReadonlyMap<string, PitchTrack>>(new Map());
  private readonly asked = new Set<string>();
  /** Pitch is drawn over clips and sources. */
  readonly shown = signal(false);

  /** Reads the pitch of a source; what is not known yet is tracked. A signal is read. */
  readerOf(source: Source): PitchReader {
    const parts = this.parts();
    return (time) => {
      const n = this.partAt(source, time);
      const part = parts.get(keyOf(source, n));
      if (!part) this.ask(source, n);
      return part && pitchAt(part, time);
    };
  }

  /** The pitch of a clip `time` seconds after its start; undefined where that is not known yet. A signal is read. */
  heard(clip: Clip, time: Seconds): HeardPitch | undefined {
    const source = this.sourceOf(clip);
    return source && heardPitchAt(this.workbench.asHeard(clip), this.readerOf(source), time);
  }

  /** The pitch of a clip as a whole; undefined where it has none, or none is known yet. A signal is read. */
  noteOf(clip: Clip): Note | undefined {
    const source = this.sourceOf(clip);
    return source && this.isKnown(clip) ? clipNote(this.workbench.asHeard(clip), this.readerOf(source)) : undefined;
  }

  /** True when the pitch of all that a clip plays is known; what is not is tracked. A signal is read. */
  isKnown(clip: Clip): boolean {
    const source = this.sourceOf(clip);
    if (!source) return true;
    const read = this.readerOf(source);
    let known = true;
    const step = partLength / 2;
    for (let into = 0; into < clip.length + step; into += step) if (!read(contentPlace(clip, Math.min(into, clip.length)))) known = false;
    return known;
  }

  sourceOf(clip: Clip): Source | undefined {
    return this.document.project()?.sources.find(({ id }) => id === clip.source);
  }

  private partAt(source: Source, time: Seconds): number {
    const last = Math.max(0, Math.ceil(this.lengthOf(source) / partLength) - 1);
    return Math.max(0, Math.min(last, Math.floor(time / partLength)));
  }

  private lengthOf({ frames }: Source): Seconds {
    return frames / this.document.project()!.sampleRate;
  }

  private ask(source: Source, n: number): void {
    const key = keyOf(source, n);
    if (this.asked.has(key)) return;
    this.asked.add(key);
    const from = n * partLength;
    const to = Math.min(this.lengthOf(source), from + partLength);
    const keep = (part: PitchTrack): void =>
      this.parts.update((parts) => {
        const kept = new Map([...parts].slice(1 - mostParts)).set(key, part);
        for (const known of parts.keys()) if (!kept.has(known)) this.asked.delete(known);
        return kept;
      });
    // Where a recording is missing, nothing has a pitch; whoever plays it is told why.
    const nothing: PitchTrack = { from, hop, notes: new Float32Array([NaN]), confidence: new Float32Array(1) };
    this.track(source, from, to).then(keep, () => keep(nothing));
  }

  private async track(source: Source, from: Seconds, to: Seconds): Promise<PitchTrack> {
    const input = { ...(await this.library.stored(source)), from, to, hop };
    return this.jobs.run('pitchTrack', input, `Tracking the pitch of ${source.name}`, { quiet: true });
  }
}

function keyOf({ audio }: Source, n: number): string {
  return `${audio}:${n}`;
}
