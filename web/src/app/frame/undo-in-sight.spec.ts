import { TestBed } from '@angular/core/testing';
import { NavigationEnd, Router } from '@angular/router';
import { Subject } from 'rxjs';
import { configureStores, openProject, shownInfos } from '../../testing/project';
import type { DocumentStore } from '../state/project/document.store';
import { WorkbenchStore } from '../state/workbench.store';
import { UndoInSight } from './undo-in-sight';

describe('undo in sight', () => {
  let store: InstanceType<typeof DocumentStore>;
  let workbench: WorkbenchStore;
  let history: UndoInSight;
  let url: string;
  const events = new Subject<NavigationEnd>();
  const goTo = (view: string): void => {
    url = `/project/halda/${view}`;
    events.next(new NavigationEnd(1, url, url));
  };

  beforeEach(async () => {
    url = '/project/halda/loft';
    configureStores();
    const router = {
      events,
      get url() {
        return url;
      },
      navigate: jest.fn((path: readonly string[]) => {
        goTo(path.at(-1)!);
        return Promise.resolve(true);
      }),
    };
    TestBed.configureTestingModule({ providers: [UndoInSight, { provide: Router, useValue: router }] });
    store = await openProject();
    workbench = TestBed.inject(WorkbenchStore);
    history = TestBed.inject(UndoInSight);
    store.edit('addSound', { name: 'Second' });
  });

  const sounds = () => store.project()!.sounds;
  const turn = (index: number, gain: number): void =>
    void store.edit('setValues', { sound: sounds()[index]!.id, values: { 'sound/gain': gain }, label: `Gain ${gain}` });

  it('stays where it is when that is where the edit was made', async () => {
    workbench.selectSound(sounds()[0]!.id);
    turn(0, -6);
    await history.undo();
    expect(sounds()[0]!.gain).toBe(0);
    expect(url).toContain('loft');
    expect(shownInfos).toEqual([]);
  });

  it('shows another sound before it changes it, and says so', async () => {
    turn(0, -6);
    workbench.selectSound(sounds()[1]!.id);
    await history.undo();
    expect(workbench.sound()!.id).toBe(sounds()[0]!.id);
    expect(sounds()[0]!.gain).toBe(0);
    expect(shownInfos).toEqual([`Undone in “${sounds()[0]!.name}”: Gain -6.`]);
    workbench.selectSound(sounds()[1]!.id);
    await history.redo();
    expect(workbench.sound()!.id).toBe(sounds()[0]!.id);
    expect(sounds()[0]!.gain).toBe(-6);
    expect(shownInfos.at(-1)).toBe(`Done again in “${sounds()[0]!.name}”: Gain -6.`);
  });

  it('goes to the view in which an edit was made', async () => {
    workbench.selectSound(sounds()[0]!.id);
    goTo('kin');
    store.edit('setFamily', { sound: sounds()[0]!.id, size: 5 });
    goTo('gather');
    await history.undo();
    expect(url).toBe('/project/halda/kin');
    expect(sounds()[0]!.family.siblings).toHaveLength(0);
    expect(shownInfos).toEqual(['Undone in Kin: Family of 5.']);
  });

  it('goes to every place in turn, however quickly it is asked', async () => {
    turn(0, -6);
    turn(1, -3);
    goTo('gather');
    await Promise.all([history.undo(), history.undo()]);
    expect(shownInfos).toEqual([`Undone in the Loft, in “Second”: Gain -3.`, `Undone in “${sounds()[0]!.name}”: Gain -6.`]);
    expect(sounds().map(({ gain }) => gain)).toEqual([0, 0]);
  });

  it('has nothing to say where there is nothing to undo', async () => {
    while (store.undo());
    await history.undo();
    await history.redo();
    expect(shownInfos).toEqual([]);
  });
});
