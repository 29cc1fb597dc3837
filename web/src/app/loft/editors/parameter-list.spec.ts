import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import type { EffectStep } from '@tangled-choir/core';
import { configureStores, openProject } from '../../../testing/project';
import type { DocumentStore } from '../../state/project/document.store';
import { Playback } from '../../state/playback.store';
import { ParameterList } from './parameter-list';

describe('the parameters of a step', () => {
  let fixture: ComponentFixture<ParameterList>;
  let host: HTMLElement;
  let store: InstanceType<typeof DocumentStore>;
  let sound: string;
  let layer: string;

  const step = (): EffectStep => store.project()!.sounds[0]!.layers[0]!.chain[0]!;
  const field = (label: string): HTMLElement => host.querySelector<HTMLElement>(`[aria-label="${label}"]`)!;
  const refresh = async (): Promise<void> => {
    fixture.componentRef.setInput('step', step());
    await fixture.whenStable();
  };

  beforeEach(async () => {
    configureStores();
    store = await openProject();
    sound = store.project()!.sounds[0]!.id;
    layer = store.project()!.sounds[0]!.layers[0]!.id;
    store.edit('addEffect', { sound, owner: { layer }, effect: 'delay' });
    fixture = TestBed.createComponent(ParameterList);
    await refresh();
    host = fixture.nativeElement;
  });

  it('leave a time alone that is counted in notes, and say why', async () => {
    expect(field('Time').getAttribute('aria-disabled')).toBe('false');
    store.edit('setValues', { sound, values: { [`layer/${layer}/chain/${step().id}/note`]: '1/8' }, label: 'Note' });
    await refresh();
    expect(field('Time').getAttribute('aria-disabled')).toBe('true');
    expect(field('Time').title).toBe('“Time in” counts it in notes: 1/8');
    expect(field('Feedback').getAttribute('aria-disabled')).toBe('false');
  });

  it('are only those that do something as the others stand', async () => {
    store.edit('removeEffect', { sound, owner: { layer }, step: step().id });
    store.edit('addEffect', { sound, owner: { layer }, effect: 'harmony' });
    await refresh();
    const shown = (): string => host.textContent ?? '';
    expect(shown()).toContain('First');
    expect(shown()).not.toContain('Chord');
    store.edit('setValues', { sound, values: { [`layer/${layer}/chain/${step().id}/by`]: 'chord' }, label: 'Voices' });
    await refresh();
    expect(shown()).toContain('Chord');
    expect(shown()).not.toContain('First');
    // While it moves along a lane, all that it leads to is offered.
    store.edit('addAutomation', { sound, address: `layer/${layer}/chain/${step().id}/by` });
    await refresh();
    expect(shown()).toContain('Steps apart');
    expect(shown()).toContain('First');
  });

  it('show between which values they move, and who moves them', async () => {
    store.edit('addMover', { sound, kind: 'tide', name: 'Swell' });
    const mover = store.project()!.sounds[0]!.movers[0]!.id;
    store.edit('setPull', { sound, mover, address: `layer/${layer}/chain/${step().id}/feedback`, depth: 0.2 });
    await refresh();
    // 35 % and a fifth to both sides.
    expect(field('Feedback').title).toBe('Pulled by Swell. Between 15 % and 55 %');
    expect(field('Feedback').querySelector('.reach')).not.toBeNull();
    expect(field('Echo').querySelector('.reach')).toBeNull();
  });

  it('have stages that follow a lane; who chooses another sets the stage at the playhead', async () => {
    const address = `layer/${layer}/chain/${step().id}/crossed`;
    store.edit('addAutomation', { sound, address });
    const lane = () => store.project()!.sounds[0]!.automation[0]!;
    const points = [
      { time: 0, value: 0, bend: 0 },
      { time: 1, value: 1, bend: 0 },
      { time: 2, value: 0, bend: 0 },
    ];
    store.edit('setAutomationPoints', { sound, lane: lane().id, points, action: 'Draw' });
    const box = (): HTMLInputElement => host.querySelector<HTMLInputElement>('input[type=checkbox]')!;
    const playback = TestBed.inject(Playback);
    await refresh();
    expect(box().checked).toBe(false);
    playback.seek(1.5);
    await refresh();
    expect(box().checked).toBe(true);
    expect(box().closest('mat-checkbox')!.getAttribute('title')).toBe(
      'Automated: a choice sets the stage at the playhead. Between off and on',
    );
    box().click();
    await refresh();
    expect(lane().points.map(({ value }) => value)).toEqual([0, 0, 0]);
    expect(lane().trim).toBe(0);
    expect(step().parameters['crossed']).not.toBe(true);
    store.undo();
    await refresh();
    expect(box().checked).toBe(true);
  });
});
