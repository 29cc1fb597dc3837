import { TestBed } from '@angular/core/testing';
import { findProperty, effectCatalogue, pitchParameter } from '@tangled-choir/core';
import { configureStores, openProject } from '../../testing/project';
import type { DocumentStore } from '../state/project/document.store';
import { Turning } from '../state/turning';
import { WorkbenchStore } from '../state/workbench.store';
import { DialMenus } from '../ui/dial-menus';
import { DialMenu } from './dial-menu';

describe('the menu of a dial', () => {
  beforeEach(configureStores);

  const sound = () => TestBed.inject(WorkbenchStore).sound()!;

  /** Asks for the menu of a property, as a dial of it does, and chooses in it. */
  async function choose(address: string, ...items: readonly string[]): Promise<string[]> {
    const fixture = TestBed.createComponent(DialMenu);
    await fixture.whenStable();
    const { parameter, value } = findProperty(sound(), address, effectCatalogue)!;
    const set = (next: unknown): void => TestBed.inject(Turning).turn({ [address]: Number(next) }, 'Turn');
    TestBed.inject(DialMenus).asked.set({ dial: { name: parameter.label, address, parameter, value, set }, place: { x: 0, y: 0 } });
    await fixture.whenStable();
    const all = (): HTMLElement[] => [...document.querySelectorAll<HTMLElement>('.mat-mdc-menu-item')];
    const offered = all().map((item) => item.textContent.trim());
    for (const text of items) {
      all()
        .find((item) => item.textContent.includes(text))!
        .click();
      await fixture.whenStable();
    }
    fixture.destroy();
    return offered;
  }

  async function gainOfSlab(): Promise<{ store: DocumentStore; address: string }> {
    const store = await openProject();
    return { store, address: `layer/${sound().layers[0]!.id}/gain` };
  }

  it('gives the property a lane and opens it', async () => {
    const { address } = await gainOfSlab();
    await choose(address, 'Automate');
    expect(sound().automation.map((lane) => lane.address)).toEqual([address]);
    expect(TestBed.inject(WorkbenchStore).openedLane()).toEqual({ address });
    expect(await choose(address)).toContain('Show the lane of “Gain”');
  });

  it('lets a new mover pull it as one undo step, and an old one let go', async () => {
    const { store, address } = await gainOfSlab();
    await choose(address, 'Pull it by', 'A new rein');
    expect(sound().movers.map(({ name }) => name)).toEqual(['Rein 1']);
    expect(sound().pulls.map((pull) => pull.address)).toEqual([address]);
    await choose(address, 'Pull it by', 'Rein 1');
    expect(sound().pulls).toEqual([]);
    store.undo();
    store.undo();
    expect([sound().movers, sound().pulls]).toEqual([[], []]);
  });

  it('lets movers pull at the pitch of a clip, which is then heard as they stand at its beginning, but not at its speed', async () => {
    const { store } = await gainOfSlab();
    const [layer] = sound().layers;
    const address = `layer/${layer!.id}/clip/${layer!.clips[0]!.id}`;
    const still = await choose(`${address}/speed`);
    expect(still.filter((item) => item.startsWith('Automate') || item.startsWith('Pull it by'))).toEqual([]);
    const offered = await choose(`${address}/pitch`, 'Pull it by', 'A new rein');
    expect(offered.some((item) => item.startsWith('Automate'))).toBe(false);
    const [pull] = sound().pulls;
    expect(pull).toMatchObject({ address: `${address}/pitch`, depth: 3 });
    const heard = (): number => TestBed.inject(WorkbenchStore).asHeard(sound().layers[0]!.clips[0]!).pitch;
    expect(heard()).toBe(0);
    store.edit('setValues', { sound: sound().id, values: { [`rein/${pull!.mover}/value`]: 0.5 }, label: '' });
    expect(heard()).toBeCloseTo(1.5, 9);
    const dial = TestBed.inject(Turning).pulledDial(`${address}/pitch`, 0, pitchParameter);
    expect(dial).toEqual({ by: 'Rein 1', heard: heard(), reach: { low: 0, high: 3 } });
  });

  it('lets it vary and ends that', async () => {
    const { address } = await gainOfSlab();
    await choose(address, 'Let it vary');
    expect(sound().family.sways).toMatchObject([{ kind: 'range', address, low: -1.5, high: 1.5 }]);
    await choose(address, 'Varies between siblings');
    expect(sound().family.sways).toEqual([]);
  });

  it('puts it back, and has nothing to paste before something was copied', async () => {
    const { store, address } = await gainOfSlab();
    const other = `layer/${sound().layers[1]!.id}/gain`;
    store.edit('setValues', { sound: sound().id, values: { [address]: -7.5 }, label: '' });
    await choose(address, 'Back to');
    expect(sound().layers[0]!.gain).toBe(0);
    expect((await choose(other)).some((item) => item.startsWith('Paste'))).toBe(false);
  });

  it('offers nothing for what is no property of the sound but to put it back and to copy it', async () => {
    await gainOfSlab();
    const fixture = TestBed.createComponent(DialMenu);
    await fixture.whenStable();
    const { parameter } = findProperty(sound(), 'sound/gain', effectCatalogue)!;
    const taken: unknown[] = [];
    const menus = TestBed.inject(DialMenus);
    const open = async (value: number) => {
      menus.asked.set({
        dial: { name: 'Depth', address: undefined, parameter, value, set: (next) => taken.push(next) },
        place: { x: 0, y: 0 },
      });
      await fixture.whenStable();
      return [...document.querySelectorAll<HTMLElement>('.mat-mdc-menu-item')];
    };
    const items = await open(-3);
    expect(items.map((item) => item.textContent.trim())).toEqual(['Back to 0.0 dB', 'Copy −3.0 dB']);
    items[1]!.click();
    await fixture.whenStable();
    const again = await open(5);
    again.find((item) => item.textContent.includes('Paste −3.0 dB'))!.click();
    expect(taken).toEqual([-3]);
    fixture.destroy();
  });
});
