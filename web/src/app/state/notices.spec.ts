import { TestBed } from '@angular/core/testing';
import { MatSnackBar } from '@angular/material/snack-bar';
import { Notices } from './notices';

const shown = (): string => document.querySelector('mat-snack-bar-container')?.textContent ?? '';
const press = (): void => document.querySelector<HTMLButtonElement>('mat-snack-bar-container button')?.click();
const until = async (text: string): Promise<void> => {
  for (let look = 0; look < 600 && !shown().includes(text); look++) await new Promise((resolve) => setTimeout(resolve, 20));
  expect(shown()).toContain(text);
};

describe('notices', () => {
  it('bring an offer back that others have pushed away, until it is answered', async () => {
    const notices = TestBed.inject(Notices);
    let answers = 0;
    notices.offer('This view could not be opened.', 'Try again', () => answers++);
    await until('Try again');
    notices.info('12 files were written.');
    notices.error('The disk is full.');
    await until('The disk is full.');
    press();
    await until('Try again');
    press();
    expect(answers).toBe(1);
    notices.error('The disk is full again.');
    await until('full again');
    press();
    TestBed.inject(MatSnackBar).dismiss();
    await new Promise((resolve) => setTimeout(resolve, 500));
    expect(shown()).not.toContain('Try again');
  });
});
