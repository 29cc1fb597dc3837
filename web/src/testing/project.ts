import { provideEnvironmentInitializer } from '@angular/core';
import type { Provider } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { createRandom, writeWav } from '@tangled-choir/core';
import { AudioLibrary } from '../app/engine/audio-library';
import { gatherProviders } from '../app/gather/gather-providers';
import { loftProviders } from '../app/loft/loft-providers';
import { openProjectProviders } from '../app/open-project';
import { DocumentStore } from '../app/state/project/document.store';
import { Notices } from '../app/state/notices';
import { ProjectShelf } from '../app/state/project/project-shelf';
import { ProjectTransfer } from '../app/state/project/project-transfer.store';
import { WorkbenchStore } from '../app/state/workbench.store';
import { registerIcons } from '../app/ui/icons';

/** Messages that a test's actions led to. */
export const shownErrors: string[] = [];
export const shownInfos: string[] = [];

/** What an open project has, and its views. */
export const projectProviders: Provider[] = [...openProjectProviders, ...loftProviders, ...gatherProviders];

/** Real stores over an empty database; only the messages are caught. */
export function configureStores(): void {
  shownErrors.length = 0;
  shownInfos.length = 0;
  TestBed.configureTestingModule({
    providers: [
      ...projectProviders,
      provideRouter([{ path: '**', children: [] }]),
      provideEnvironmentInitializer(registerIcons),
      { provide: Notices, useValue: { error: (text: string) => shownErrors.push(text), info: (text: string) => shownInfos.push(text) } },
    ],
  });
}

function recording(name: string, seconds: number): File {
  const random = createRandom(name.length);
  const channels = [Float32Array.from({ length: seconds * 48_000 }, () => random.next() - 0.5)];
  return new File([writeWav({ sampleRate: 48_000, channels }, { encoding: '16' })], name);
}

/** Makes an empty project and opens it. */
export async function openEmptyProject(name = 'Halda'): Promise<DocumentStore> {
  const document = TestBed.inject(DocumentStore);
  await document.open(await TestBed.inject(ProjectShelf).create(name));
  return document;
}

/** A project with two recordings and one sound that has a layer of each. */
export async function openProject(): Promise<DocumentStore> {
  const document = await openEmptyProject();
  await TestBed.inject(ProjectTransfer).importFiles(
    [recording('slab knock.wav', 1), recording('snow grain.wav', 0.25)].map((file) => ({ path: file.name, file })),
  );
  document.edit('addSound', { name: 'Slab' });
  const { sounds, sources } = document.project()!;
  for (const source of sources) document.edit('addLayer', { sound: sounds[0]!.id, source: source.id, start: 0 });
  TestBed.inject(WorkbenchStore).selectSound(sounds[0]!.id);
  await TestBed.inject(AudioLibrary).loadAll(document.project()!, document.project()!.sounds);
  return document;
}
