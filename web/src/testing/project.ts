import { provideEnvironmentInitializer } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { createRandom, writeWav } from '@tangled-choir/core';
import { AudioLibrary } from '../app/engine/audio-library';
import { DocumentStore } from '../app/state/document.store';
import { Notices } from '../app/state/notices';
import { ProjectTransfer } from '../app/state/project-transfer';
import { WorkbenchStore } from '../app/state/workbench.store';
import { registerIcons } from '../app/ui/icons';

/** Messages that a test's actions led to. */
export const shownErrors: string[] = [];

/** Real stores over an empty database; only the messages are caught. */
export function configureStores(): void {
  shownErrors.length = 0;
  TestBed.configureTestingModule({
    providers: [
      provideRouter([{ path: '**', children: [] }]),
      provideEnvironmentInitializer(registerIcons),
      { provide: Notices, useValue: { error: (text: string) => shownErrors.push(text), info: () => undefined } },
    ],
  });
}

function recording(name: string, seconds: number): File {
  const random = createRandom(name.length);
  const channels = [Float32Array.from({ length: seconds * 48_000 }, () => random.next() - 0.5)];
  return new File([writeWav({ sampleRate: 48_000, channels }, { encoding: '16' })], name);
}

/** A project with two recordings and one sound that has a layer of each. */
export async function openProject(): Promise<InstanceType<typeof DocumentStore>> {
  const document = TestBed.inject(DocumentStore);
  await document.create('Halda');
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
