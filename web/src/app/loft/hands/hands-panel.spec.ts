import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import { patchPresets } from '@tangled-choir/core';
import { choiceBox, offered } from '../../../testing/choices';
import { configureStores, openEmptyProject } from '../../../testing/project';
import { LiveEngine } from '../../engine/live/live-engine';
import { HandsStore } from '../../state/hands.store';
import { Playback } from '../../state/playback.store';
import type { DocumentStore } from '../../state/project/document.store';
import { WorkbenchStore } from '../../state/workbench.store';
import { LoftView } from '../loft-view';
import { intervalOf, keyRows } from './key-rows';

describe('playing by hand', () => {
  let fixture: ComponentFixture<LoftView>;
  let host: HTMLElement;
  let store: InstanceType<typeof DocumentStore>;
  let hands: HandsStore;
  /** Where the sound is heard to be; it plays while this is not undefined. */
  let now: number | undefined;

  beforeEach(async () => {
    configureStores();
    store = await openEmptyProject();
    store.edit('addSound', { name: 'Beacon' });
    const { name, role, patch } = patchPresets.find((preset) => preset.name === 'Beacon')!;
    store.edit('addMadeLayer', { sound: sound().id, start: 1, length: 2, name, role, patch, notes: [] });
    const engine = TestBed.inject(LiveEngine);
    now = undefined;
    jest.spyOn(engine, 'heardNow').mockImplementation(() => now);
    jest.spyOn(engine, 'playHands').mockImplementation(() => Promise.resolve(engine.playing.set('hands')));
    jest.spyOn(engine, 'playSound').mockImplementation(() => Promise.resolve(engine.playing.set('sound')));
    hands = TestBed.inject(HandsStore);
    fixture = TestBed.createComponent(LoftView);
    await fixture.whenStable();
    host = fixture.nativeElement;
    await press('K', { shiftKey: true, code: 'KeyK' });
  });

  const sound = () => store.project()!.sounds[0]!;
  const notes = () => sound().layers[0]!.clips.flatMap((clip) => clip.notes ?? []);
  const press = async (key: string, more: KeyboardEventInit = {}, type = 'keydown'): Promise<KeyboardEvent> => {
    const event = new KeyboardEvent(type, { key, code: `Key${key.toUpperCase()}`, bubbles: true, cancelable: true, ...more });
    document.body.dispatchEvent(event);
    await fixture.whenStable();
    return event;
  };
  const button = (text: RegExp): HTMLButtonElement =>
    [...host.querySelectorAll<HTMLButtonElement>('tc-hands-panel button')].find((each) => text.test(each.textContent ?? ''))!;
  const click = async (text: RegExp): Promise<void> => {
    button(text).click();
    await fixture.whenStable();
  };

  it('lays a fourth between the rows of keys, and a semitone between neighbours', () => {
    expect(intervalOf('KeyZ')).toBe(0);
    expect(intervalOf('KeyX')).toBe(1);
    expect(intervalOf('KeyA')).toBe(5);
    expect(intervalOf('KeyQ')).toBe(10);
    expect(intervalOf('Digit1')).toBeUndefined();
    expect(new Set(keyRows.flat().map(({ code }) => code)).size).toBe(keyRows.flat().length);
  });

  it('takes letters for itself while it is open, and gives them back', async () => {
    await press('b');
    expect(hands.held().map(({ pitch }) => pitch)).toEqual([57 + 4]);
    expect(store.undoLabel()).toBe('Made layer “Beacon”');
    await press('b', {}, 'keyup');
    expect(hands.held()).toEqual([]);
    // Commands stay commands.
    await press('z', { ctrlKey: true });
    expect(hands.held()).toEqual([]);
    await press('Escape', { code: 'Escape' });
    expect(host.querySelector('tc-hands-panel')).toBeNull();
    await press('m');
    expect(sound().layers[0]!.muted).toBe(true);
  });

  it('keeps notes where they were heard, moved to the grid by as much as is wanted, as one step', async () => {
    hands.setQuantise(0.5);
    await click(/Record notes/);
    now = 1.3;
    await press('q');
    now = 1.55;
    await press('q', {}, 'keyup');
    now = 4.1;
    await press('z');
    now = 4.2;
    // What is still down ends with the recording.
    await click(/Stop/);
    // Eighths at 120 bpm are 0.25 s: 1.3 goes half of the way to 1.25, 4.1 to 4.
    expect(notes().map(({ pitch, strength }) => [pitch, strength])).toEqual([
      [67, 0.8],
      [57, 0.8],
    ]);
    expect(notes()[0]!.start).toBeCloseTo(1.275 - 1, 6);
    expect(notes()[0]!.length).toBeCloseTo(0.25, 6);
    expect(sound().layers[0]!.clips[1]!.start).toBeCloseTo(4.05, 6);
    store.undo();
    expect(notes()).toEqual([]);
  });

  it('records nothing while the sound stands, and ends a note that the loop cuts at its end', async () => {
    await press('q');
    await press('q', {}, 'keyup');
    await click(/Record notes/);
    now = 1.9;
    await press('q');
    now = 0.4;
    await press('q', {}, 'keyup');
    await click(/Stop/);
    expect(notes()).toHaveLength(1);
    // Without a stretch of its own, the whole sound loops, which ends at 3 s.
    expect(notes()[0]!.start).toBeCloseTo(0.9, 6);
    expect(notes()[0]!.length).toBeCloseTo(1.1, 6);
  });

  it('ends what is still held where the sound was stopped', async () => {
    const engine = TestBed.inject(LiveEngine);
    await click(/Record notes/);
    await fixture.whenStable();
    now = 1.4;
    await press('q');
    now = 1.75;
    // The position has moved on.
    engine.seek(1.8);
    await fixture.whenStable();
    now = undefined;
    await press(' ', { code: 'Space' });
    TestBed.inject(Playback).stop();
    await fixture.whenStable();
    expect(hands.recording()).toBe(false);
    expect(notes()).toHaveLength(1);
    expect(notes()[0]!.start).toBeCloseTo(0.4, 6);
    expect(notes()[0]!.length).toBeCloseTo(0.35, 6);
  });

  it('keeps the moves of each property, also when another sound is opened meanwhile', async () => {
    const [first] = sound().layers;
    const part = first!.patch!.parts[0]!.id;
    const [level, tuning] = ['level', 'tuning'].map((key) => `layer/${first!.id}/part/${part}/${key}`);
    hands.setWheel(level);
    hands.record((time) => time);
    now = 0.5;
    hands.moveWheel(1);
    hands.setWheel(tuning);
    now = 0.6;
    hands.moveWheel(0);
    store.edit('addSound', { name: 'Another' });
    TestBed.inject(WorkbenchStore).selectSound(store.project()!.sounds[1]!.id);
    hands.finish();
    expect(sound().automation.map(({ address, points }) => [address, points.at(-1)!.value])).toEqual([
      [level, 12],
      [tuning, -60],
    ]);
    expect(store.project()!.sounds[1]!.automation).toEqual([]);
    store.undo();
    store.undo();
    expect(sound().automation).toEqual([]);
  });

  it('bends all notes by two semitones, or as far as somebody says, from where they are and back', async () => {
    const layer = sound().layers[0]!.id;
    const address = `layer/${layer}/patch/bend`;
    const bent = () => sound().layers[0]!.patch!.parameters['bend'];
    hands.bend(0.5);
    expect(bent()).toBe(1);
    hands.bend(-1);
    expect(bent()).toBe(-2);
    hands.bend(0);
    expect(bent()).toBe(0);
    hands.setBendReach(12);
    hands.bend(-0.5);
    expect(bent()).toBe(-6);
    hands.bend(0);
    hands.setBendReach(2);
    // Away from where its dial is, and back to there.
    store.edit('setValues', { sound: sound().id, values: { [address]: 5 }, label: '' });
    hands.bend(0.5);
    expect(bent()).toBe(6);
    hands.bend(0);
    expect(bent()).toBe(5);
    store.edit('setValues', { sound: sound().id, values: { [address]: 0 }, label: '' });
    hands.record((time) => time);
    for (const [time, place] of [
      [0.5, 1],
      [0.6, 0],
    ] as const) {
      now = time;
      hands.bend(place);
    }
    hands.finish();
    expect(sound().automation.map((lane) => [lane.address, lane.points.at(-1)!.value])).toEqual([[address, 0]]);
    expect(sound().automation[0]!.points.some(({ value }) => value === 2)).toBe(true);
    // Who only plays along moves nothing of it.
    hands.bend(1);
    expect(sound().automation[0]!.trim).toBe(0);
  });

  it('offers the controller that moves its wheel, whichever was moved since', async () => {
    hands.midi.connected.set(true);
    hands.setWheelBy(74);
    await fixture.whenStable();
    expect(await offered(fixture, 'The wheel is moved by')).toContain('controller 74');
    expect(await (await choiceBox(fixture, 'The wheel is moved by')).getValueText()).toBe('controller 74');
  });

  it('moves what is on its wheel and keeps the moves in a lane', async () => {
    const part = sound().layers[0]!.patch!.parts[0]!.id;
    const address = `layer/${sound().layers[0]!.id}/part/${part}/level`;
    hands.setWheel(address);
    const before = sound().layers[0]!.patch!.parts[0]!.parameters['level'];
    hands.record((time) => time);
    for (const [time, place] of [
      [0.5, 1],
      [0.52, 0.5],
      [0.54, 0],
    ] as const) {
      now = time;
      hands.moveWheel(place);
    }
    hands.finish();
    const lane = sound().automation.find((each) => each.address === address)!;
    expect(lane.points.at(-1)).toMatchObject({ time: 0.54, value: -96 });
    expect(lane.points.some(({ time, value }) => time === 0.5 && value === 12)).toBe(true);
    expect(sound().layers[0]!.patch!.parts[0]!.parameters['level']).toBe(before);
    store.undo();
    expect(sound().automation).toEqual([]);
  });
});
