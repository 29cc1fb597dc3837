import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import { choose } from '../../testing/choices';
import { configureStores, openEmptyProject, openProject, shownErrors } from '../../testing/project';
import { AudioLibrary } from '../engine/audio-library';
import type { DocumentStore } from '../state/project/document.store';
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

  it.each(['ArrowDown', 'Enter'])('leads from the search field to the first of what was found by %s', async (key) => {
    const search = host.querySelector<HTMLInputElement>('input[type="search"]')!;
    search.value = 'grain';
    search.dispatchEvent(new Event('input'));
    await fixture.whenStable();
    search.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
    await fixture.whenStable();
    expect(TestBed.inject(WorkbenchStore).source()?.name).toBe('snow grain');
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
    await choose(fixture, 'Role', 'Strike');
    const tags = host.querySelector<HTMLInputElement>('#tags')!;
    tags.value = 'ice,  hollow, ice';
    tags.dispatchEvent(new Event('change'));
    expect(store.project()!.sources[0]).toMatchObject({ role: 'Strike', tags: ['ice', 'hollow'] });
  });

  it('teaches when there is nothing yet', async () => {
    await openEmptyProject('Empty');
    await fixture.whenStable();
    expect(host.textContent).toContain('Bring your recordings');
  });

  /** Measuring goes on behind the screen; the facts must be there before they can be asked about. */
  const measured = async (): Promise<void> => {
    const library = TestBed.inject(AudioLibrary);
    for (let i = 0; i < 200 && library.allFacts().size < 2; i++) await new Promise((resolve) => setTimeout(resolve, 50));
    await fixture.whenStable();
  };
  const rows = (): (string | null)[] => [...host.querySelectorAll('.row')].map((row) => row.getAttribute('aria-label'));
  const chip = (label: string): HTMLElement =>
    [...host.querySelectorAll<HTMLElement>('.chip')].find((each) => each.textContent.trim() === label)!;

  it('filters by character, and opposites exclude each other', async () => {
    await measured();
    chip('under 2 s').click();
    chip('noisy').click();
    await fixture.whenStable();
    expect(host.textContent).toContain('2 of 2');
    chip('pitched').click();
    await fixture.whenStable();
    expect(chip('noisy').getAttribute('aria-pressed')).toBe('false');
    expect(host.textContent).toContain('No source fits all of this');
  });

  it('ranks by likeness to the chosen source', async () => {
    await measured();
    TestBed.inject(WorkbenchStore).selectSource(store.project()!.sources[1]!.id);
    await press('a');
    expect(host.textContent).toContain('Most like “snow grain” first');
    expect(host.querySelectorAll('tc-character-map')).toHaveLength(1);
    expect(rows()[0] ?? 'snow grain').toBe('snow grain');
    await press('Escape');
    expect(host.textContent).not.toContain('Most like');
  });

  it('shows facts and finds good parts as regions that can be placed, renamed and removed', async () => {
    await measured();
    expect(host.querySelector('dl')!.textContent).toContain('none (noisy)');
    store.edit('addRegions', { source: store.project()!.sources[0]!.id, regions: [{ name: 'Part 1', from: 0.2, to: 0.4 }] });
    await fixture.whenStable();
    host.querySelector<HTMLElement>('[aria-label="Place Part 1 in the Loft"]')!.click();
    const clip = store.project()!.sounds[0]!.layers.at(-1)!.clips[0]!;
    expect(clip).toMatchObject({ offset: 0.2 });
    expect(clip.length).toBeCloseTo(0.2);
    host.querySelector<HTMLElement>('[aria-label="Remove Part 1"]')!.click();
    expect(store.project()!.sources[0]!.regions).toEqual([]);
  });

  it('keeps notes of the origin', () => {
    const recordist = host.querySelector<HTMLInputElement>('#recordist')!;
    recordist.value = 'A. Halda';
    recordist.dispatchEvent(new Event('change'));
    expect(store.project()!.sources[0]!.origin.recordist).toBe('A. Halda');
  });
});
