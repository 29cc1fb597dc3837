import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import type { CurveParameter } from '@tangled-choir/core';
import { readCurve } from '@tangled-choir/core';
import { CurveField } from './curve-field';

const bars: CurveParameter = {
  kind: 'curve',
  label: 'Harmonics',
  unit: '%',
  points: 8,
  min: 0,
  max: 100,
  first: [100, 0, 0, 0, 0, 0, 0, 0],
  default: '',
};

describe('a drawn curve', () => {
  let fixture: ComponentFixture<CurveField>;
  let plot: SVGElement;
  let texts: string[];

  beforeEach(async () => {
    fixture = TestBed.createComponent(CurveField);
    fixture.componentRef.setInput('parameter', bars);
    fixture.componentRef.setInput('label', 'Harmonics');
    fixture.componentRef.setInput('value', '');
    texts = [];
    fixture.componentInstance.valueChange.subscribe(({ value }) => {
      texts.push(value);
      fixture.componentRef.setInput('value', value);
    });
    await fixture.whenStable();
    const host: HTMLElement = fixture.nativeElement;
    plot = host.querySelector('svg')!;
    jest.spyOn(plot, 'getBoundingClientRect').mockReturnValue(new DOMRect(0, 0, 80, 100));
  });

  const numbers = (): readonly number[] => readCurve(bars, texts.at(-1)!)!;
  const pointer = (type: string, x: number, y: number): MouseEvent =>
    new MouseEvent(type, { clientX: x, clientY: y, bubbles: true, cancelable: true, button: 0 });
  const key = async (name: string, more: KeyboardEventInit = {}): Promise<void> => {
    plot.dispatchEvent(new KeyboardEvent('keydown', { key: name, bubbles: true, cancelable: true, ...more }));
    await fixture.whenStable();
  };

  it('shows what stands there at first, and is drawn on from there without gaps', async () => {
    expect(plot.getAttribute('aria-valuetext')).toBe('1: 100 %');
    plot.dispatchEvent(pointer('pointerdown', 15, 98));
    window.dispatchEvent(pointer('pointermove', 75, 2));
    window.dispatchEvent(pointer('pointerup', 75, 2));
    await fixture.whenStable();
    expect(numbers()[0]).toBe(100);
    // From nothing at the second to all at the last, in a straight line.
    expect(numbers().slice(1)).toEqual([0, 16.7, 33.3, 50, 66.7, 83.3, 100]);
    expect(plot.getAttribute('aria-valuetext')).toBe('8: 100 %');
  });

  it('keeps within its range beyond its edges', () => {
    plot.dispatchEvent(pointer('pointerdown', -20, 500));
    window.dispatchEvent(pointer('pointermove', 500, -300));
    window.dispatchEvent(pointer('pointerup', 500, -300));
    expect(Math.min(...numbers())).toBe(0);
    expect(Math.max(...numbers())).toBe(100);
  });

  it('goes from number to number by keys, and moves them; Delete and a double click take the drawing away', async () => {
    await key('ArrowLeft');
    await key('ArrowDown');
    expect(numbers()[0]).toBe(95);
    await key('ArrowRight');
    await key('ArrowUp', { shiftKey: true });
    expect(numbers().slice(0, 3)).toEqual([95, 0.5, 0]);
    await key('Delete');
    expect(texts.at(-1)).toBe('');
    await key('ArrowUp');
    plot.dispatchEvent(new MouseEvent('dblclick', { bubbles: true }));
    expect(texts.at(-1)).toBe('');
  });
});
