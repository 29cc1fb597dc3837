import { inject, Injectable } from '@angular/core';
import type { NewSource } from '@tangled-choir/core';
import { projectSampleRate, safeFileName } from '@tangled-choir/core';
import { AudioLibrary } from '../engine/audio-library';
import { JobCancelled, JobPool } from '../engine/job-pool';
import { neededAudio, ProjectRepository } from '../storage/project-repository';
import { saveFile } from '../storage/save-file';
import { DocumentStore } from './document.store';

export interface ImportFailure {
  readonly file: string;
  readonly reason: string;
}

/** Brings audio and projects in and out: WAV files into the open project, `.choir` archives as whole projects. */
@Injectable({ providedIn: 'root' })
export class ProjectTransfer {
  private readonly document = inject(DocumentStore);
  private readonly repository = inject(ProjectRepository);
  private readonly library = inject(AudioLibrary);
  private readonly jobs = inject(JobPool);

  /**
   * Imports WAV files into the open project as one undo step, several at a time. Files that cannot be read are returned with their
   * reasons; the others are imported all the same.
   */
  async importFiles(files: readonly File[]): Promise<{ imported: number; failures: ImportFailure[]; notes: string[] }> {
    const failures: ImportFailure[] = [];
    const notes: string[] = [];
    const sources = await Promise.all(
      files.map(async (file): Promise<NewSource | undefined> => {
        try {
          const bytes = new Uint8Array(await file.arrayBuffer());
          const result = await this.jobs.run(
            { kind: 'import', fileName: file.name, bytes, sampleRate: projectSampleRate },
            `Importing ${file.name}`,
          );
          await this.repository.saveAudio(result.source.audio, result.wav);
          this.library.put(result.source.audio, result.source.name, result.loaded);
          for (const note of result.notes) notes.push(`${file.name}: ${note}`);
          return result.source;
        } catch (error) {
          if (!(error instanceof JobCancelled))
            failures.push({ file: file.name, reason: error instanceof Error ? error.message : String(error) });
          return undefined;
        }
      }),
    );
    const imported = sources.filter((source) => source !== undefined);
    if (imported.length > 0) this.document.edit('addSources', { sources: imported });
    return { imported: imported.length, failures, notes };
  }

  /** Opens a `.choir` archive as a project. Rejects with a sentence about what is wrong with it; nothing is changed then. */
  async openArchive(name: string, bytes: Uint8Array<ArrayBuffer>): Promise<string> {
    const { project, audio } = await this.jobs.run({ kind: 'unpack', name, bytes }, `Opening ${name}`);
    for (const [hash, wav] of audio) await this.repository.saveAudio(hash, new Uint8Array(wav));
    return this.document.adopt(project);
  }

  /** Packs the open project and hands it to the person as a file. */
  async exportArchive(): Promise<void> {
    const project = this.document.project();
    if (!project) return;
    const audio = new Map<string, Uint8Array>();
    for (const hash of neededAudio(project)) {
      const wav = await this.repository.loadAudio(hash);
      if (wav) audio.set(hash, wav);
    }
    const archive = await this.jobs.run({ kind: 'pack', project, audio }, `Packing ${project.name}`);
    saveFile(archive, `${safeFileName(project.name)}.choir`, 'application/zip');
  }
}
