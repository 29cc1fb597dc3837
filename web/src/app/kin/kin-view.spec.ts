import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import { measure } from '@tangled-choir/core';
import { choose } from '../../testing/choices';
import { configureStores, openProject } from '../../testing/project';
import type { DocumentStore } from '../state/project/document.store';
import { FamilyRenders } from '../state/family-renders.store';
import { Playback } from '../state/playback.store';
import { KinView } from './kin-view';

describe('Kin', () => {
  let fixture: ComponentFixture<KinView>;
  let host: HTMLElement;
  let store: InstanceType<typeof DocumentStore>;

  beforeEach(async () => {
    configureStores();
    store = await openProject();
    fixture = TestBed.createComponent(KinView);
    await fixture.whenStable();
    host = fixture.nativeElement;
  });

  const family = () => store.project()!.sounds[0]!.family;
  const press = async (key: string): Promise<void> => {
    document.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
    await fixture.whenStable();
  };
  const click = async (text: string): Promise<void> => {
    [...host.querySelectorAll('button')].find((button) => button.textContent.trim() === text)!.click();
    await fixture.whenStable();
  };
  const rendered = async (count: number): Promise<void> => {
    const renders = TestBed.inject(FamilyRenders);
    for (let i = 0; i < 200 && renders.ready() < count; i++) await new Promise((resolve) => setTimeout(resolve, 25));
    expect(renders.ready()).toBe(count);
  };

  it('makes a family, sways it, renders it, and tells siblings apart', async () => {
    await click('Make eight siblings');
    await click('Clear');
    expect(family().siblings).toHaveLength(8);
    expect(family().sways.length).toBeGreaterThan(3);
    await rendered(8);
    const peaks = TestBed.inject(FamilyRenders)
      .siblings()
      .map((sibling) => sibling!.measured.rmsDbfs);
    expect(new Set(peaks.map((peak) => peak.toFixed(3))).size).toBe(8);
  });

  it('keeps and drops by key, and rolls only the rest again', async () => {
    await click('Make eight siblings');
    await press('3');
    await press('k');
    await press('ArrowRight');
    await press('x');
    expect(
      family()
        .siblings.map((sibling) => sibling.state)
        .slice(1, 5),
    ).toEqual(['open', 'kept', 'dropped', 'open']);
    await press('g');
    expect(family().siblings[2]).toMatchObject({ state: 'kept', roll: 0 });
    expect(family().siblings[3]).toMatchObject({ state: 'open', roll: 1 });
    await press('k');
    store.undo();
    expect(family().siblings[3]!.state).toBe('open');
  });

  it('lets any property vary, shows how far, and locks it against ready strengths', async () => {
    await choose(fixture, 'Let something else vary', 'Pan');
    expect(host.querySelector('.row')!.textContent).toContain('slab knock · pan');
    const ends = host.querySelectorAll<HTMLElement>('tc-range [role="slider"]');
    ends[1]!.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight', bubbles: true }));
    await fixture.whenStable();
    const sway = family().sways[0]!;
    expect(sway.address).toMatch(/^layer\/[^/]+\/pan$/);
    expect(sway.kind === 'range' && sway.high).toBeGreaterThan(0.125);
    host.querySelector<HTMLElement>('[aria-label^="Lock"]')!.click();
    await click('Bold');
    expect(family().sways.some((other) => other.address === sway.address)).toBe(true);
  });

  it('gives the same family for the same seed', async () => {
    await click('Make eight siblings');
    await click('Clear');
    await rendered(8);
    const level = (): number[] =>
      TestBed.inject(FamilyRenders)
        .siblings()
        .map((sibling) => sibling?.measured.rmsDbfs ?? 0);
    const first = level();
    store.edit('setFamily', { sound: store.project()!.sounds[0]!.id, seed: 99 });
    await rendered(8);
    expect(level()).not.toEqual(first);
    store.edit('setFamily', { sound: store.project()!.sounds[0]!.id, seed: 1 });
    await rendered(8);
    expect(level()).toEqual(first);
  });

  it('compares the two that were heard last, both as loud as the quieter, and makes one a sound of its own', async () => {
    await click('Make eight siblings');
    await click('Bold');
    await rendered(8);
    const siblings = TestBed.inject(FamilyRenders).siblings();
    const playback = TestBed.inject(Playback);
    const heard: number[] = [];
    jest.spyOn(playback, 'audition').mockImplementation((_name, audio) => {
      heard.push(measure({ ...audio, channels: [...audio.channels] }).integratedLufs);
    });
    const button = (text: string) => [...host.querySelectorAll('button')].find((each) => each.textContent.trim().startsWith(text))!;
    expect(button('A|B').disabled).toBe(true);
    await press('2');
    await press('5');
    expect(button('A|B').textContent).toContain('A|B with 2');
    await press('b');
    await press('b');
    const levels = [1, 4].map((index) => siblings[index]!.measured.integratedLufs);
    expect(heard.slice(0, 2)).toEqual(levels.map((level) => expect.closeTo(level, 2)));
    for (const level of heard.slice(2)) expect(level).toBeCloseTo(Math.min(...levels), 1);

    const before = store.project()!.sounds;
    await click('Make it a sound');
    expect(store.project()!.sounds).toHaveLength(before.length + 1);
    expect(store.project()!.sounds[1]!.name).toBe(`${before[0]!.name} 5`);
    store.undo();
    expect(store.project()!.sounds).toEqual(before);
  });
});
