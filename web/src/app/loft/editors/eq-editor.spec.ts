import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import type { EffectStep } from '@tangled-choir/core';
import { configureStores, openProject } from '../../../testing/project';
import type { DocumentStore } from '../../state/project/document.store';
import { Judging } from '../../state/judging.store';
import { EqEditor } from './eq-editor';

describe('the EQ', () => {
  let fixture: ComponentFixture<EqEditor>;
  let host: HTMLElement;
  let store: InstanceType<typeof DocumentStore>;
  let judging: Judging;

  const step = (): EffectStep => store.project()!.sounds[0]!.layers[0]!.chain[0]!;
  const refresh = async (): Promise<void> => {
    fixture.componentRef.setInput('step', step());
    await fixture.whenStable();
  };
  const band = (number: number): HTMLElement => host.querySelector<HTMLElement>(`[aria-label^="Band ${number}:"]`)!;
  const ear = (): HTMLElement => host.querySelector<HTMLElement>('[aria-label="Hear only this band"]')!;

  beforeEach(async () => {
    configureStores();
    store = await openProject();
    const sound = store.project()!.sounds[0]!;
    const owner = { layer: sound.layers[0]!.id };
    store.edit('addEffect', { sound: sound.id, owner, effect: 'eq' });
    const at = `layer/${owner.layer}/chain/${step().id}`;
    const values = { [`${at}/band2On`]: true, [`${at}/band5On`]: true, [`${at}/band5Q`]: 3 };
    store.edit('setValues', { sound: sound.id, values, label: 'Bands' });
    judging = TestBed.inject(Judging);
    fixture = TestBed.createComponent(EqEditor);
    await refresh();
    host = fixture.nativeElement;
  });

  it('lets the open band be heard alone, goes along with it, and ends with the editor', async () => {
    band(5).focus();
    await refresh();
    ear().click();
    await refresh();
    expect(judging.alone()).toEqual({ step: step().id, what: { part: 'around', frequency: 2_400, q: 3 } });
    expect(ear().getAttribute('aria-pressed')).toBe('true');
    band(5).dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight', bubbles: true }));
    await refresh();
    expect(judging.alone()?.what).toMatchObject({ frequency: 2_400 * 2 ** (1 / 12) });
    band(2).focus();
    await refresh();
    expect(judging.alone()?.what).toMatchObject({ part: 'below', frequency: 100 });
    band(2).dispatchEvent(new KeyboardEvent('keydown', { key: 'h', bubbles: true }));
    await refresh();
    expect(judging.alone()).toBeUndefined();
    ear().click();
    await refresh();
    expect(judging.alone()).toBeDefined();
    fixture.destroy();
    expect(judging.alone()).toBeUndefined();
  });

  it('ends listening to a band when another EQ is opened in its place', async () => {
    ear().click();
    await refresh();
    const sound = store.project()!.sounds[0]!;
    store.edit('addEffect', { sound: sound.id, owner: { layer: sound.layers[0]!.id }, effect: 'eq' });
    fixture.componentRef.setInput('step', store.project()!.sounds[0]!.layers[0]!.chain[1]!);
    await fixture.whenStable();
    expect(judging.alone()).toBeUndefined();
  });

  it('ends listening to a band when something is compared, and the other way round', async () => {
    ear().click();
    await refresh();
    judging.compareWith('without this step');
    expect(judging.alone()).toBeUndefined();
    ear().click();
    await refresh();
    expect(judging.otherSide()).toBeUndefined();
  });
});
