import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import { configureStores, openEmptyProject, openProject } from '../../../testing/project';
import type { DocumentStore } from '../../state/project/document.store';
import { WorkbenchStore } from '../../state/workbench.store';
import { ProjectRepository } from '../../storage/project-repository';
import { StepPresets } from './step-presets';

describe('the presets of a step', () => {
  let fixture: ComponentFixture<StepPresets>;
  let store: InstanceType<typeof DocumentStore>;

  const sound = () => store.project()!.sounds[0]!;
  const step = () => sound().layers[0]!.chain[0]!;

  const place = () => ({ sound: sound().id, owner: { layer: sound().layers[0]!.id } });
  /** A menu that was closed may still be fading out. */
  const items = (): HTMLElement[] => {
    const panels = [...document.querySelectorAll('.mat-mdc-menu-panel')];
    return [...(panels.at(-1)?.querySelectorAll<HTMLElement>('.mat-mdc-menu-item') ?? [])];
  };
  const offers = (): string[] => items().map((item) => item.textContent?.trim() ?? '');
  const open = async (): Promise<void> => {
    fixture = TestBed.createComponent(StepPresets);
    fixture.componentRef.setInput('step', step());
    await fixture.whenStable();
    (fixture.nativeElement as HTMLElement).querySelector('button')!.click();
    for (let i = 0; i < 10; i++) {
      await new Promise((resolve) => setTimeout(resolve, 10));
      await fixture.whenStable();
    }
  };
  const choose = async (name: string): Promise<void> => {
    items()
      .find((item) => item.textContent?.trim().startsWith(name))!
      .click();
    await fixture.whenStable();
  };

  /** A tremolo with its own rate and mix, saved by itself. */
  function saveTremolo(name: string): void {
    store.edit('addEffect', { ...place(), effect: 'tremolo' });
    const [mine] = sound().layers[0]!.chain;
    const own = `layer/${sound().layers[0]!.id}/chain/${mine!.id}`;
    store.edit('setValues', { sound: sound().id, values: { [`${own}/rate`]: 7, [`${own}/mix`]: 0.4 }, label: 'Tremolo' });
    store.edit('savePreset', { ...place(), steps: [mine!.id], name, tags: [] });
  }

  beforeEach(async () => {
    configureStores();
    store = await openProject();
  });

  it('offer what was saved of the same effect by itself, with its mix', async () => {
    saveTremolo('Engine shake');
    const saved = { mix: 0.4, parameters: { rate: 7 } };
    store.edit('savePreset', { ...place(), name: 'A whole chain', tags: [] });
    await open();
    expect(offers()).toContain('Engine shake');
    await choose('Defaults');
    expect(step().parameters['rate']).not.toBe(7);
    await open();
    await choose('Engine shake');
    expect(step()).toMatchObject(saved);
    expect(store.undoLabel()).toBe('Preset “Engine shake”');
    store.edit('removeEffect', { ...place(), step: step().id });
    store.edit('addEffect', { ...place(), effect: 'phaser' });
    await open();
    expect(offers()).toContain('Vocal');
    expect(offers()).not.toContain('Engine shake');
  });

  it('offer those of other projects of this browser too, and say where they are from', async () => {
    saveTremolo('Engine shake');
    await TestBed.inject(ProjectRepository).save(store.history()!);
    await openEmptyProject('Storm');
    store.edit('addSound', { name: 'Gust' });
    const [gust] = store.project()!.sounds;
    TestBed.inject(WorkbenchStore).selectSound(gust!.id);
    TestBed.inject(WorkbenchStore).selectWhole();
    store.edit('addEffect', { sound: gust!.id, owner: 'sound', effect: 'tremolo' });
    fixture = TestBed.createComponent(StepPresets);
    fixture.componentRef.setInput('step', sound().chain[0]!);
    await fixture.whenStable();
    (fixture.nativeElement as HTMLElement).querySelector('button')!.click();
    for (let i = 0; i < 50 && !offers().some((name) => name.startsWith('Engine shake')); i++) {
      await new Promise((resolve) => setTimeout(resolve, 10));
      await fixture.whenStable();
    }
    expect(offers().find((name) => name.startsWith('Engine shake'))).toMatch(/Engine shake\s+· Halda/);
    await choose('Engine shake');
    expect(sound().chain[0]).toMatchObject({ mix: 0.4, parameters: { rate: 7 } });
  });
});
