import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import type { EffectStep } from '@tangled-choir/core';
import { configureStores, openProject } from '../../../testing/project';
import type { DocumentStore } from '../../state/project/document.store';
import { WorkbenchStore } from '../../state/workbench.store';
import { HostEditor } from './host-editor';

describe('the editor of a host', () => {
  let fixture: ComponentFixture<HostEditor>;
  let host: HTMLElement;
  let store: InstanceType<typeof DocumentStore>;
  let workbench: WorkbenchStore;

  const step = (): EffectStep => store.project()!.sounds[0]!.layers[0]!.chain[0]!;

  async function show(effect: string): Promise<void> {
    configureStores();
    store = await openProject();
    workbench = TestBed.inject(WorkbenchStore);
    const sound = store.project()!.sounds[0]!;
    store.edit('addEffect', { sound: sound.id, owner: { layer: sound.layers[0]!.id }, effect });
    fixture = TestBed.createComponent(HostEditor);
    fixture.componentRef.setInput('step', step());
    await fixture.whenStable();
    host = fixture.nativeElement;
  }

  const press = async (name: string): Promise<void> => {
    host.querySelector<HTMLElement>(`[aria-label="${name}"]`)!.click();
    fixture.componentRef.setInput('step', step());
    await fixture.whenStable();
  };
  const rows = (): string[] =>
    [...host.querySelectorAll('.row .title')].map((title) => [...title.children].map((part) => part.textContent!.trim()).join(' '));

  it('lists bands from high to low with the range of each', async () => {
    await show('bands');
    expect(rows()).toEqual(['Band 3 from 2.20 kHz', 'Band 2 160 Hz to 2.20 kHz', 'Band 1 up to 160 Hz']);
    expect(host.querySelectorAll('[aria-label^="Delay of"]')).toHaveLength(0);
  });

  it('adds bands up to six and takes them away down to two', async () => {
    await show('bands');
    for (let count = 4; count <= 6; count++) {
      host.querySelector<HTMLElement>('.add')!.click();
      fixture.componentRef.setInput('step', step());
      await fixture.whenStable();
      expect(rows()).toHaveLength(count);
    }
    expect(host.querySelector('.add')).toBeNull();
    for (let count = 5; count >= 2; count--) await press('Remove Band 1');
    expect(rows()).toHaveLength(2);
    expect(host.querySelector<HTMLButtonElement>('[aria-label="Remove Band 1"]')!.disabled).toBe(true);
  });

  it('mutes, hears alone and renames; each is a step that can be undone', async () => {
    await show('side-by-side');
    await press('Mute Lane 2');
    await press('Hear Lane 1 alone');
    expect(step().branches!.map(({ muted, soloed }) => [muted, soloed])).toEqual([
      [false, true],
      [true, false],
    ]);
    store.undo();
    store.undo();
    expect(step().branches!.every(({ muted, soloed }) => !muted && !soloed)).toBe(true);
    expect(host.querySelectorAll('[aria-label^="Delay of"]')).toHaveLength(2);
  });

  it('moves splits with the arrow keys, but not past each other', async () => {
    await show('bands');
    const split = (): HTMLElement => host.querySelector<HTMLElement>('[aria-label="Split 1"][role="slider"].handle')!;
    split().dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight' }));
    expect(step().parameters['split1']).toBeCloseTo(160 * 2 ** (1 / 12), 6);
    fixture.componentRef.setInput('step', step());
    await fixture.whenStable();
    for (let i = 0; i < 60; i++) {
      split().dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight' }));
      fixture.componentRef.setInput('step', step());
      await fixture.whenStable();
    }
    expect(Number(step().parameters['split1'])).toBeLessThan(2_200);
  });

  it('opens the chain of a branch, where steps are added, and the way back out of it', async () => {
    await show('bands');
    const [low] = step().branches!;
    [...host.querySelectorAll<HTMLElement>('.row .chain button')].at(-1)!.click();
    expect(workbench.branch()).toBe(low!.id);
    expect(workbench.chain()).toEqual([]);
    store.edit('addEffect', { sound: workbench.sound()!.id, owner: workbench.owner(), branch: low!.id, effect: 'trim' });
    expect(workbench.step()?.effect).toBe('trim');
    workbench.openBranch(undefined);
    expect(workbench.step()?.effect).toBe('bands');
    // What is gone cannot be looked into.
    workbench.openBranch(low!.id);
    store.undo();
    store.undo();
    expect(workbench.chain()).toEqual([]);
    expect(workbench.path()).toEqual([]);
  });
});
