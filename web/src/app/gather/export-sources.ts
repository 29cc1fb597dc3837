import { inject, Injectable } from '@angular/core';
import type { Source } from '@tangled-choir/core';
import { safeFileName } from '@tangled-choir/core';
import { ProjectJobs } from '../engine/project-jobs';
import { Notices } from '../state/notices';
import { ProjectRepository } from '../storage/project-repository';
import { saveFile } from '../storage/save-file';
import { DocumentStore } from '../state/project/document.store';

/** What can be packed in the memory of a page. */
const mostBytes = 1.2 * 2 ** 30;

/** Writes sources as WAV files, as the project keeps them: one as it is, several in a zip. */
@Injectable()
export class ExportSources {
  private readonly repository = inject(ProjectRepository);
  private readonly document = inject(DocumentStore);
  private readonly jobs = inject(ProjectJobs);
  private readonly notices = inject(Notices);

  async write(sources: readonly Source[]): Promise<void> {
    try {
      const files = new Map<string, Blob>();
      for (const source of sources) {
        const wav = await this.repository.loadAudio(source.audio);
        if (!wav) throw new Error(`The audio of “${source.name}” is not in this browser’s storage, so nothing was written.`);
        files.set(freeName(source.name, files), wav);
      }
      const [first] = files;
      if (first && files.size === 1) saveFile(first[1], first[0], 'audio/wav');
      else await this.writeZip(files);
    } catch (error) {
      if (!this.jobs.signal.aborted) this.notices.error(error instanceof Error ? error.message : String(error));
    }
  }

  private async writeZip(files: ReadonlyMap<string, Blob>): Promise<void> {
    const bytes = [...files.values()].reduce((sum, { size }) => sum + size, 0);
    if (bytes > mostBytes)
      throw new Error(`These sources have ${(bytes / 2 ** 30).toFixed(1)} GB; up to 1.2 GB can be packed at once. Choose fewer.`);
    const contents: Record<string, Uint8Array> = {};
    for (const [name, wav] of files) contents[name] = new Uint8Array(await wav.arrayBuffer());
    const zip = await this.jobs.run('zip', { files: contents }, `Packing ${files.size} sources`);
    saveFile(zip, `${safeFileName(`${this.document.project()?.name ?? 'Project'}_sources`)}.zip`, 'application/zip');
  }
}

/** A name that no other file has, also where systems ignore case. */
function freeName(name: string, taken: ReadonlyMap<string, unknown>): string {
  const used = new Set([...taken.keys()].map((key) => key.toLowerCase()));
  let free = `${safeFileName(name)}.wav`;
  for (let n = 2; used.has(free.toLowerCase()); n++) free = `${safeFileName(name)} ${n}.wav`;
  return free;
}
