import { ChangeDetectionStrategy, Component } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { MatDialog } from '@angular/material/dialog';
import { openDialog } from './open-dialog';

@Component({ selector: 'tc-something', changeDetection: ChangeDetectionStrategy.OnPush, template: 'Something' })
class Something {}

/** A click beside the dialog, so long after it was opened. */
function clickBeside(later: number): void {
  const click = new MouseEvent('click', { bubbles: true });
  Object.defineProperty(click, 'timeStamp', { value: performance.now() + later });
  document.querySelector('.cdk-overlay-backdrop')?.dispatchEvent(click);
}

describe('a dialog', () => {
  const open = () => openDialog(TestBed.inject(MatDialog), Something, { enterAnimationDuration: 0, exitAnimationDuration: 0 });
  const closed = async (): Promise<boolean> => {
    await new Promise((resolve) => setTimeout(resolve));
    return TestBed.inject(MatDialog).openDialogs.length === 0;
  };

  afterEach(() => TestBed.inject(MatDialog).closeAll());

  it('stays open under the second click of a double click, and closes under a later one', async () => {
    open();
    clickBeside(120);
    expect(await closed()).toBe(false);
    clickBeside(2_000);
    expect(await closed()).toBe(true);
  });

  it('closes on Escape', async () => {
    open();
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape', bubbles: true, cancelable: true }));
    expect(await closed()).toBe(true);
  });
});
