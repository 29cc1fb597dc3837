import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import { configureStores, openProject, shownErrors } from '../../testing/project';
import type { DocumentStore } from '../state/document.store';
import { WorkbenchStore } from '../state/workbench.store';
import { GatherView } from './gather-view';

describe('Gather', () => {
  let fixture: ComponentFixture<GatherView>;
  let host: HTMLElement;
  let store: InstanceType<typeof DocumentStore>;

  beforeEach(async () => {
    configureStores();
    store = await openProject();
    fixture = TestBed.createComponent(GatherView);
    await fixture.whenStable();
    host = fixture.nativeElement;
  });

  const press = async (key: string): Promise<void> => {
    document.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
    await fixture.whenStable();
  };

  it('shows the facts of the chosen source', () => {
    expect(host.querySelector('tc-source-inspector')!.textContent).toContain('slab knock.wav');
    expect(host.textContent).toContain('2 of 2');
    expect(host.querySelector('dl')!.textContent).toContain('1.000 s');
    expect(host.querySelector('dl')!.textContent).toContain('Slab, 1 clip');
  });

  it('chooses with the arrows and keeps a source that is used', async () => {
    await press('ArrowDown');
    expect(TestBed.inject(WorkbenchStore).source()?.name).toBe('snow grain');
    await press('Delete');
    expect(store.project()!.sources).toHaveLength(2);
    expect(shownErrors[0]).toContain('is used in “Slab”');
  });

  it('places the chosen source as a new layer', async () => {
    await press('p');
    expect(store.project()!.sounds[0]!.layers.map((layer) => layer.name)).toEqual(['slab knock', 'snow grain', 'slab knock']);
    expect(store.undoLabel()).toBe('Layer “slab knock”');
  });

  it('renames with F2', async () => {
    await press('F2');
    await new Promise((resolve) => setTimeout(resolve));
    const input = host.querySelector<HTMLInputElement>('tc-name input')!;
    input.value = 'Slab, hollow';
    input.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));
    expect(store.project()!.sources[0]!.name).toBe('Slab, hollow');
  });

  it('sets role and tags', async () => {
    const role = host.querySelector<HTMLSelectElement>('#role')!;
    role.value = 'Strike';
    role.dispatchEvent(new Event('change'));
    const tags = host.querySelector<HTMLInputElement>('#tags')!;
    tags.value = 'ice,  hollow, ice';
    tags.dispatchEvent(new Event('change'));
    expect(store.project()!.sources[0]).toMatchObject({ role: 'Strike', tags: ['ice', 'hollow'] });
  });

  it('teaches when there is nothing yet', async () => {
    await store.create('Empty');
    await fixture.whenStable();
    expect(host.textContent).toContain('Bring your recordings');
  });
});
