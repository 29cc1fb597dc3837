import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import { situations } from '@tangled-choir/core';
import { configureStores, openEmptyProject, openProject, shownErrors } from '../../../testing/project';
import type { DocumentStore } from '../../state/project/document.store';
import { Judging } from '../../state/judging.store';
import { ProjectRepository } from '../../storage/project-repository';
import { WorkbenchStore } from '../../state/workbench.store';
import { PresetBrowser } from './preset-browser';

describe('chains to choose from', () => {
  let fixture: ComponentFixture<PresetBrowser>;
  let host: HTMLElement;
  let store: InstanceType<typeof DocumentStore>;

  beforeEach(async () => {
    configureStores();
    store = await openProject();
    fixture = TestBed.createComponent(PresetBrowser);
    await fixture.whenStable();
    host = fixture.nativeElement;
  });

  const chain = () => store.project()!.sounds[0]!.layers[0]!.chain;
  const press = async (name: string): Promise<void> => {
    host.querySelector<HTMLElement>(`[aria-label="${name}"]`)!.click();
    await fixture.whenStable();
  };
  const names = (): string[] => [...host.querySelectorAll('.row')].map((row) => row.getAttribute('aria-label') ?? '');

  it('offers every situation, and finds them by words in name, tags and description', async () => {
    expect(names()).toEqual(situations.map(({ name }) => name));
    const search = host.querySelector('input')!;
    search.value = 'situation muffled';
    search.dispatchEvent(new Event('input'));
    await fixture.whenStable();
    expect(names()).toEqual(['Under ice']);
    search.value = 'nothing like it';
    search.dispatchEvent(new Event('input'));
    await fixture.whenStable();
    expect(host.textContent).toContain('Nothing is called like that.');
  });

  it('puts a chain in the place of the old one, or behind it', async () => {
    await press('Use Far off');
    expect(chain().map(({ effect }) => effect)).toEqual(['distance', 'reverb']);
    await press('Add Telephone');
    expect(chain()).toHaveLength(5);
    await press('Use Telephone');
    expect(chain().map(({ effect }) => effect)).toEqual(['eq', 'compressor', 'drive']);
    store.undo();
    expect(chain()).toHaveLength(5);
  });

  it('shows saved chains first, and removes them', async () => {
    const sound = store.project()!.sounds[0]!;
    await press('Use Worn tape');
    store.edit('savePreset', { sound: sound.id, owner: TestBed.inject(WorkbenchStore).owner(), name: 'My tape', tags: ['old'] });
    await fixture.whenStable();
    expect(names()[0]).toBe('My tape');
    expect(host.querySelector('.row')!.textContent).toContain('Drive → Chorus → Grit');
    await press('Remove My tape');
    expect(store.project()!.presets).toEqual([]);
    expect(shownErrors).toEqual([]);
  });

  it('offers what other projects of this browser have kept, once', async () => {
    const sound = store.project()!.sounds[0]!;
    await press('Use Worn tape');
    const owner = TestBed.inject(WorkbenchStore).owner();
    store.edit('savePreset', { sound: sound.id, owner, name: 'My tape', tags: ['old'] });
    store.edit('savePreset', { sound: sound.id, owner, name: 'Same', tags: [] });
    await TestBed.inject(ProjectRepository).save(store.history()!);
    await openEmptyProject('Storm');
    store.edit('addSound', { name: 'Gust' });
    const workbench = TestBed.inject(WorkbenchStore);
    workbench.selectSound(store.project()!.sounds[0]!.id);
    workbench.selectWhole();
    fixture = TestBed.createComponent(PresetBrowser);
    host = fixture.nativeElement;
    for (let i = 0; i < 50 && !names().includes('My tape'); i++) {
      await new Promise((resolve) => setTimeout(resolve, 10));
      await fixture.whenStable();
    }
    expect(names().slice(0, 2)).toEqual(['My tape', 'Same']);
    expect(host.querySelector('.row')!.textContent).toContain('from Halda');
    expect(host.querySelector('[aria-label="Remove My tape"]')).toBeNull();
    await press('Use Same');
    const gust = store.project()!.sounds[0]!;
    expect(gust.chain.map(({ effect }) => effect)).toEqual(['drive', 'chorus', 'grit']);
    store.edit('savePreset', { sound: gust.id, owner: 'sound', name: 'Same', tags: [] });
    await fixture.whenStable();
    expect(names().filter((name) => name === 'Same')).toHaveLength(1);
  });

  it('compares with what was remembered, and forgets it with the sound', async () => {
    const judging = TestBed.inject(Judging);
    judging.remember();
    TestBed.tick();
    expect(judging.otherSide()).toBe('as remembered');
    judging.toggle();
    expect(judging.heard()).toBe('B');
    // Only the change of a step and a comparison cannot be heard at once; whoever begins one ends the other.
    judging.hearChange('step-1');
    expect(judging.otherSide()).toBeUndefined();
    judging.remember();
    expect(judging.difference()).toBeUndefined();
    store.edit('addSound', { name: 'Another' });
    TestBed.inject(WorkbenchStore).selectSound(store.project()!.sounds[1]!.id);
    TestBed.tick();
    expect(judging.otherSide()).toBeUndefined();
    expect(judging.heard()).toBe('A');
    await fixture.whenStable();
  });
});
