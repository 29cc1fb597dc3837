import { inject, Injectable } from '@angular/core';
import type { Project } from '@tangled-choir/core';
import { createProject, safeFileName, startHistory } from '@tangled-choir/core';
import { JobPool } from '../../engine/job-pool';
import { CopyRecords } from '../../storage/copy-records';
import type { ProjectSummary } from '../../storage/project-repository';
import { neededAudio, neededPictures, ProjectRepository } from '../../storage/project-repository';
import { whileNobodyWrites } from './project-lock';
import { UnstoredProjects } from './unstored-projects';
import { saveFile } from '../../storage/save-file';

/** The projects of this browser as wholes: made, taken in from `.choir` files, handed out as such. None of them need be open. */
@Injectable({ providedIn: 'root' })
export class ProjectShelf {
  private readonly repository = inject(ProjectRepository);
  private readonly jobs = inject(JobPool);
  private readonly unstored = inject(UnstoredProjects);
  private readonly copies = inject(CopyRecords);

  /** Makes an empty project; returns its id. */
  async create(name: string): Promise<string> {
    const id = crypto.randomUUID();
    await this.repository.save(startHistory(createProject(id, name)));
    return id;
  }

  /**
   * Takes in a `.choir` file as a new project, with an id of its own unless that is free; returns its id. Rejects with a sentence about what is
   * wrong with it; nothing is changed then.
   */
  async openArchive(name: string, file: Blob): Promise<string> {
    const { project, audio, pictures, facts } = await this.jobs.run('openArchive', { name, file }, `Opening ${name}`);
    const measured = new Map([...audio].filter(([hash]) => facts.has(hash)));
    const overviews = await this.jobs.run('overviews', { audio: measured }, `Opening ${name}`);
    for (const [hash, wav] of audio) await this.repository.saveAudio(hash, wav);
    // Where there is no room for them, they are made anew.
    for (const [hash, overview] of overviews)
      await this.repository.saveDerived({ hash, overview, facts: facts.get(hash)! }).catch(() => undefined);
    for (const [hash, video] of pictures) await this.repository.savePicture(hash, new Blob([video], { type: typeOf(project, hash) }));
    const taken = (await this.repository.list()).some((known) => known.id === project.id);
    const adopted = taken ? { ...project, id: crypto.randomUUID() } : project;
    await this.repository.save(startHistory(adopted));
    return adopted.id;
  }

  /** Takes a project out of this browser. Rejects when it is open in another tab, which would go on without its recordings. */
  async remove({ id, name }: ProjectSummary): Promise<void> {
    // With what was not stored of it, and the right to write it.
    await this.unstored.take(id);
    if (!(await whileNobodyWrites(id, () => this.repository.remove(id))))
      throw new Error(`“${name}” is open in another tab, so it was not removed; close it there first.`);
    await this.copies.forget(id);
  }

  /** Packs a project and hands it to the person as a file. */
  async exportArchive(project: Project): Promise<void> {
    saveFile(await this.packArchive(project), `${safeFileName(project.name)}.choir`, 'application/zip');
    await this.copies.markKept(project.id, Date.now());
  }

  /** A project with all its recordings and pictures as a `.choir` file. */
  async packArchive(project: Project, options: { readonly quiet?: boolean } = {}): Promise<Blob> {
    const audio = new Map<string, Blob>();
    for (const hash of neededAudio(project)) {
      const wav = await this.repository.loadAudio(hash);
      if (wav) audio.set(hash, wav);
    }
    const pictures = new Map<string, Blob>();
    for (const hash of neededPictures(project)) {
      const video = await this.repository.loadPicture(hash);
      if (video) pictures.set(hash, video);
    }
    const derived = await this.repository.loadDerived([...audio.keys()]);
    const facts = new Map(derived.map((known) => [known.hash, known.facts]));
    return this.jobs.run('packArchive', { project, audio, pictures, facts }, `Packing ${project.name}`, options);
  }

  /** The id of the project in a `.choir` file. Rejects where it is none. */
  async idOf(name: string, file: Blob): Promise<string> {
    return (await this.jobs.run('openArchive', { name, file }, `Reading ${name}`, { quiet: true })).project.id;
  }
}

function typeOf(project: Project, video: string): string {
  return project.sounds.find((sound) => sound.picture?.video === video)?.picture?.type ?? '';
}
