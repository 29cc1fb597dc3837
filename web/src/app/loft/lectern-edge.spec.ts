import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import { lecternHeights, LecternPanel } from '../state/lectern-panel.store';
import { LecternEdge } from './lectern-edge';

describe('the edge of the lectern', () => {
  let fixture: ComponentFixture<LecternEdge>;
  let host: HTMLElement;
  let panel: LecternPanel;

  beforeEach(async () => {
    TestBed.configureTestingModule({ providers: [LecternPanel] });
    fixture = TestBed.createComponent(LecternEdge);
    await fixture.whenStable();
    host = fixture.nativeElement;
    panel = TestBed.inject(LecternPanel);
  });

  const press = async (key: string): Promise<void> => {
    host.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
    await fixture.whenStable();
  };
  /** Drags by pixels, upwards for more. */
  const drag = async (up: number): Promise<void> => {
    host.dispatchEvent(new MouseEvent('pointerdown', { button: 0, clientY: 500, bubbles: true, cancelable: true }));
    for (const share of [0.5, 1]) dispatchEvent(new MouseEvent('pointermove', { clientY: 500 - share * up }));
    dispatchEvent(new MouseEvent('pointerup'));
    await fixture.whenStable();
  };

  it('is dragged between the least and the most that an editor can use, and says how high it is', async () => {
    await drag(100);
    expect(panel.height()).toBe(lecternHeights.usual + 100);
    expect(host.getAttribute('aria-valuenow')).toBe(String(lecternHeights.usual + 100));
    await drag(2_000);
    expect(panel.height()).toBe(lecternHeights.most);
    await drag(lecternHeights.least - lecternHeights.most - 20);
    expect(panel.height()).toBe(lecternHeights.least);
    expect(panel.folded()).toBe(false);
  });

  it('folds when it is dragged to the bottom, and is as high as before when it is opened again', async () => {
    await drag(60);
    await drag(-250);
    expect(panel.folded()).toBe(true);
    expect(host.getAttribute('aria-valuenow')).toBe(String(lecternHeights.folded));
    await press('Enter');
    expect(panel.folded()).toBe(false);
    expect(panel.height()).toBe(lecternHeights.usual + 60);
  });

  it('opens for whatever is asked to be shown', async () => {
    await press('Enter');
    expect(panel.folded()).toBe(true);
    panel.toggle('seating');
    expect([panel.folded(), panel.shown()]).toEqual([false, 'seating']);
    panel.toggleFolded();
    // What is hidden is shown, not put away.
    panel.toggle('seating');
    expect([panel.folded(), panel.shown()]).toEqual([false, 'seating']);
    panel.toggle('seating');
    expect(panel.shown()).toBe('chain');
  });

  it('moves by keys', async () => {
    await press('ArrowUp');
    expect(panel.height()).toBeGreaterThan(lecternHeights.usual);
    await press('ArrowDown');
    expect(panel.height()).toBe(lecternHeights.usual);
  });
});
