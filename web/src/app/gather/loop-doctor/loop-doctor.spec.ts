import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { Source } from '@tangled-choir/core';
import type { StoredLoop } from '@tangled-choir/jobs';
import { EMPTY } from 'rxjs';
import { configureStores, openProject } from '../../../testing/project';
import type { LoopDoctorRequest } from './loop-doctor';
import { LoopDoctor } from './loop-doctor';

describe('the loop doctor', () => {
  let request: LoopDoctorRequest;
  let closed: StoredLoop | undefined;
  let fixture: ComponentFixture<LoopDoctor>;

  beforeEach(() => {
    closed = undefined;
    configureStores();
    TestBed.configureTestingModule({
      providers: [
        { provide: MAT_DIALOG_DATA, useFactory: () => request },
        { provide: MatDialogRef, useValue: { close: (loop: StoredLoop) => (closed = loop), beforeClosed: () => EMPTY } },
      ],
    });
  });

  async function open(change: (source: Source) => Partial<LoopDoctorRequest> = () => ({})): Promise<HTMLElement> {
    const store = await openProject();
    const source = store.project()!.sources[0]!;
    request = { source, sampleRate: 48_000, within: undefined, ...change(source) };
    fixture = TestBed.createComponent(LoopDoctor);
    return fixture.nativeElement;
  }

  /** Waits until the page shows what is looked for. */
  async function shown(host: HTMLElement, selector: string): Promise<HTMLElement> {
    for (let tries = 0; tries < 600; tries++) {
      await fixture.whenStable();
      const found = host.querySelector<HTMLElement>(selector);
      if (found) return found;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
    throw new Error(`There is no ${selector} in ${host.textContent}`);
  }

  const button = (host: HTMLElement, text: string): HTMLButtonElement =>
    [...host.querySelectorAll('button')].find((candidate) => candidate.textContent.includes(text))!;

  it('shows the tracks, ranks parts, measures the seam, and makes the source', async () => {
    const host = await open();
    await shown(host, '.verdict');
    expect([...host.querySelectorAll('tc-track-chart svg')].map((chart) => chart.getAttribute('aria-label')!.split(',')[0])).toEqual([
      'Level',
      'Pitch',
      'Colour',
    ]);
    const proposals = host.querySelectorAll<HTMLElement>('.proposal');
    expect(proposals.length).toBeGreaterThan(0);
    expect(proposals[0]!.getAttribute('aria-pressed')).toBe('true');
    expect([...host.querySelectorAll('th[scope=row]')].map((cell) => cell.textContent)).toContain('Level step');
    button(host, 'Make the source').click();
    expect(closed!.source.name).toBe('slab knock loop');
    expect(closed!.source.loop!.to).toBeCloseTo(closed!.source.frames / 48_000);
  });

  it('searches only within the region that it was opened on', async () => {
    const host = await open(() => ({ within: { from: 0.4, to: 0.9 } }));
    await shown(host, '.verdict');
    for (const proposal of host.querySelectorAll('.proposal')) {
      const [from, to] = /([\d.]+)–(\d+\.\d\d)/.exec(proposal.textContent)!.slice(1).map(Number);
      expect(from).toBeGreaterThanOrEqual(0.39);
      expect(to).toBeLessThanOrEqual(0.91);
    }
  });

  it('takes back what was made of another part until the new one is measured', async () => {
    const host = await open();
    await shown(host, '.verdict');
    const crossfade = host.querySelector<HTMLElement>('[role=slider][aria-label=Crossfade]')!;
    crossfade.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowDown', bubbles: true }));
    await fixture.whenStable();
    expect(button(host, 'Make the source').disabled).toBe(true);
    await shown(host, '.verdict');
    expect(button(host, 'Make the source').disabled).toBe(false);
  });

  it('says so when the recording is not there', async () => {
    const host = await open((source) => ({ source: { ...source, audio: 'f'.repeat(64), name: 'lost wind' } }));
    expect((await shown(host, '.problem')).textContent).toMatch(/“lost wind” is not in this browser/);
    expect(button(host, 'Make the source').disabled).toBe(true);
  });
});
