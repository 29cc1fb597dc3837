import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import { createRandom, writeWav } from '@tangled-choir/core';
import { choose } from '../../testing/choices';
import { configureStores, openEmptyProject } from '../../testing/project';
import type { DocumentStore } from '../state/project/document.store';
import { ProjectTransfer } from '../state/project/project-transfer.store';
import { GatherView } from './gather-view';

function recording(name: string, seed: number): { path: string; file: File } {
  const random = createRandom(seed);
  const wav = writeWav(
    { sampleRate: 48_000, channels: [Float32Array.from({ length: 4_800 }, () => random.next() - 0.5)] },
    { encoding: '16' },
  );
  return { path: `${name}.wav`, file: new File([wav], `${name}.wav`) };
}

describe('several sources chosen in Gather', () => {
  let fixture: ComponentFixture<GatherView>;
  let host: HTMLElement;
  let store: DocumentStore;

  beforeEach(async () => {
    configureStores();
    store = await openEmptyProject();
    const names = ['Crack', 'Groan', 'Hiss', 'Knock', 'Wind'];
    await TestBed.inject(ProjectTransfer).importFiles(names.map(recording));
    fixture = TestBed.createComponent(GatherView);
    await fixture.whenStable();
    host = fixture.nativeElement;
  });

  const row = (name: string): HTMLElement => host.querySelector(`.row[aria-label^="${name}"]`)!;
  const click = async (name: string, keys: MouseEventInit = {}): Promise<void> => {
    // A press gives the focus first.
    row(name).dispatchEvent(new FocusEvent('focus'));
    row(name).dispatchEvent(new MouseEvent('click', { bubbles: true, ...keys }));
    await fixture.whenStable();
  };
  const press = async (key: string, keys: KeyboardEventInit = {}): Promise<void> => {
    document.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...keys }));
    await fixture.whenStable();
  };
  const chosen = (): string[] =>
    [...host.querySelectorAll('.row.chosen')].map((found) => found.getAttribute('aria-label')!.replace(', chosen', ''));
  const sources = () => store.project()!.sources;

  it('are one more or one less with Ctrl, a stretch with Shift, all with Ctrl A, and one again', async () => {
    await click('Groan');
    expect(chosen()).toEqual([]);
    await click('Knock', { ctrlKey: true });
    expect(chosen()).toEqual(['Groan', 'Knock']);
    await click('Groan', { ctrlKey: true });
    expect(chosen()).toEqual([]);
    await click('Groan');
    await click('Wind', { shiftKey: true });
    expect(chosen()).toEqual(['Groan', 'Hiss', 'Knock', 'Wind']);
    await press('ArrowUp', { shiftKey: true });
    expect(chosen()).toEqual(['Groan', 'Hiss', 'Knock']);
    await press('a', { ctrlKey: true });
    expect(chosen()).toHaveLength(5);
    await press('Escape');
    expect(chosen()).toEqual([]);
  });

  it('take roles and tags together, as one step each', async () => {
    await click('Crack');
    await click('Hiss', { shiftKey: true });
    expect(host.querySelector('tc-sources-inspector')!.textContent).toContain('3 sources chosen');
    await choose(fixture, 'Role', 'Grit');
    const tags = host.querySelector<HTMLInputElement>('#add-tags')!;
    tags.value = 'ice,  lake';
    tags.dispatchEvent(new Event('change'));
    await fixture.whenStable();
    expect(sources().map((source) => source.role)).toEqual(['Grit', 'Grit', 'Grit', undefined, undefined]);
    expect(sources().map((source) => source.tags.join())).toEqual(['ice,lake', 'ice,lake', 'ice,lake', '', '']);
    store.undo();
    expect(sources()[0]!.tags).toEqual([]);
    store.undo();
    expect(sources()[0]!.role).toBeUndefined();
  });

  it('give a tag of some to all, and take one of all away', async () => {
    store.edit('setSourceTags', { source: sources()[0]!.id, tags: ['ice'] });
    await click('Crack');
    await click('Groan', { ctrlKey: true });
    const chip = (): HTMLElement => host.querySelector('tc-sources-inspector .chip')!;
    expect(chip().textContent).toContain('1');
    chip().click();
    await fixture.whenStable();
    expect(sources().map((source) => source.tags.join())).toEqual(['ice', 'ice', '', '', '']);
    chip().click();
    await fixture.whenStable();
    expect(sources().every((source) => source.tags.length === 0)).toBe(true);
  });

  it('are placed each on a layer of its own and removed, as one step each', async () => {
    await click('Groan');
    await click('Knock', { shiftKey: true });
    await press('p');
    expect(store.project()!.sounds[0]!.layers.map(({ name }) => name)).toEqual(['Groan', 'Hiss', 'Knock']);
    store.undo();
    expect(store.project()!.sounds[0]?.layers ?? []).toEqual([]);
    await press('Delete');
    expect(sources().map(({ name }) => name)).toEqual(['Crack', 'Wind']);
  });
});
