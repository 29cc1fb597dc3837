import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import { alternativesAddress } from '@tangled-choir/core';
import { choose } from '../../testing/choices';
import { configureStores, openProject } from '../../testing/project';
import type { DocumentStore } from '../state/project/document.store';
import { SwayTable } from './sway-table';

describe('the table of sways', () => {
  let fixture: ComponentFixture<SwayTable>;
  let host: HTMLElement;
  let store: InstanceType<typeof DocumentStore>;

  beforeEach(async () => {
    configureStores();
    store = await openProject();
    fixture = TestBed.createComponent(SwayTable);
    await fixture.whenStable();
    host = fixture.nativeElement;
  });

  const sound = () => store.project()!.sounds[0]!;
  const alternatives = () => sound().family.sways.find((sway) => sway.kind === 'alternatives');

  it('lets a clip play one of several, adds and leaves out, and keeps that beside a ready strength', async () => {
    const layer = sound().layers[0]!;
    const address = alternativesAddress(layer.id, layer.clips[0]!.id);
    await choose(fixture, 'Let something else vary', 'What it plays', layer.name);
    expect(alternatives()).toMatchObject({ address, of: [{ source: layer.clips[0]!.source }] });
    // The only one cannot be left out.
    expect(host.querySelector<HTMLButtonElement>('.alternative .remove')!.disabled).toBe(true);
    const other = store.project()!.sources.at(-1)!;
    await choose(fixture, `Let ${layer.name} play another one`, 'The whole', other.name);
    expect(alternatives()).toMatchObject({ of: [{ source: layer.clips[0]!.source }, { source: other.id, from: 0 }] });
    expect(host.textContent).toContain('1 of 2');
    [...host.querySelectorAll('button')].find((button) => button.textContent.trim() === 'Clear')!.click();
    await fixture.whenStable();
    expect(alternatives()).toMatchObject({ of: [{}, {}] });
    host.querySelector<HTMLButtonElement>('.alternative .remove')!.click();
    await fixture.whenStable();
    expect(alternatives()).toMatchObject({ of: [{ source: other.id }] });
    store.undo();
    expect(alternatives()).toMatchObject({ of: [{}, {}] });
  });
});
