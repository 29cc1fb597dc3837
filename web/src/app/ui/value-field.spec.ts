import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import { gainParameter } from '@tangled-choir/core';
import type { ValueChange } from './value-field';
import { ValueField } from './value-field';

describe('the value field', () => {
  let fixture: ComponentFixture<ValueField>;
  let host: HTMLElement;
  let changes: ValueChange[];

  beforeEach(async () => {
    fixture = TestBed.createComponent(ValueField);
    fixture.componentRef.setInput('parameter', { ...gainParameter, min: -60, max: 12 });
    fixture.componentRef.setInput('value', -6);
    changes = [];
    fixture.componentInstance.valueChange.subscribe((change) => changes.push(change));
    await fixture.whenStable();
    host = fixture.nativeElement;
  });

  const press = async (key: string, target: Element = host, options: KeyboardEventInit = {}): Promise<void> => {
    target.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...options }));
    await fixture.whenStable();
  };

  it('tells assistive technology what it is and how much', () => {
    expect(host.getAttribute('role')).toBe('slider');
    expect(host.getAttribute('aria-valuetext')).toBe('−6.0 dB');
    expect(host.getAttribute('aria-valuemin')).toBe('-60');
  });

  it('moves with the arrows, finely with Shift, and stays in its range', async () => {
    await press('ArrowUp');
    await press('ArrowUp', host, { shiftKey: true });
    expect(changes[0]!.value).toBeCloseTo(-6 + 0.72);
    expect(changes[1]!.value).toBeCloseTo(-6 + 0.072);
    await press('End');
    expect(changes[2]!.value).toBe(12);
  });

  it('shows between which values it moves, and where it is heard', async () => {
    expect(host.querySelector('.reach')).toBeNull();
    fixture.componentRef.setInput('reach', { low: -24, high: -6 });
    fixture.componentRef.setInput('heard', -24);
    await fixture.whenStable();
    // From half to three quarters of the way from -60 to 12.
    const reach = host.querySelector<HTMLElement>('.reach')!;
    expect(reach.style.left).toBe('50%');
    expect(reach.style.width).toBe('25%');
    expect(host.querySelector<HTMLElement>('.heard')!.style.left).toBe('50%');
  });

  it('takes typed values, also when the fingers are faster than the text field', async () => {
    await press('-');
    await press('1');
    await press('2');
    await press('Enter');
    expect(changes.map((change) => change.value)).toEqual([-12]);
  });

  it('says which limit a typed value was brought to', async () => {
    await press('Enter');
    const input = host.querySelector('input')!;
    input.value = '40';
    await press('Enter', input);
    expect(changes.map((change) => change.value)).toEqual([12]);
    expect(host.querySelector('[role="status"]')!.textContent).toBe('at most +12.0 dB');
    await press('Enter');
    expect(host.querySelector('[role="status"]')).toBeNull();
  });

  it('stays open where it does not understand, so that it can be mended', async () => {
    await press('Enter');
    const input = host.querySelector('input')!;
    input.value = '6 apples';
    await press('Enter', input);
    expect(changes).toEqual([]);
    expect(host.querySelector('[role="status"]')!.textContent).toBe('not understood');
    expect(input.getAttribute('aria-invalid')).toBe('true');
    input.value = '6';
    await press('Enter', input);
    expect(changes.map((change) => change.value)).toEqual([6]);
  });

  it('lets Escape leave everything as it was', async () => {
    await press('Enter');
    const input = host.querySelector('input')!;
    input.value = '-40';
    await press('Escape', input);
    expect(changes).toEqual([]);
    expect(host.querySelector('input')).toBeNull();
  });

  it('goes back to its default on double click', () => {
    host.dispatchEvent(new MouseEvent('dblclick'));
    expect(changes[0]!.value).toBe(0);
  });

  it('joins the turns of the wheel into one gesture', () => {
    host.dispatchEvent(new WheelEvent('wheel', { deltaY: -1, cancelable: true }));
    host.dispatchEvent(new WheelEvent('wheel', { deltaY: -1, cancelable: true }));
    expect(changes).toHaveLength(2);
    expect(changes[0]!.gesture).toBe(changes[1]!.gesture);
  });
});
