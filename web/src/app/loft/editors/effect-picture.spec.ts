import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import { configureStores, openProject } from '../../../testing/project';
import type { DocumentStore } from '../../state/project/document.store';
import { WorkbenchStore } from '../../state/workbench.store';
import { StepEditor } from './step-editor';

describe('the picture of the open step', () => {
  let store: DocumentStore;
  let fixture: ComponentFixture<StepEditor>;
  const sound = () => TestBed.inject(WorkbenchStore).sound()!;
  const step = () => sound().layers[0]!.chain[0]!;

  beforeEach(async () => {
    configureStores();
    store = await openProject();
  });

  async function open(effect: string): Promise<HTMLElement> {
    store.edit('addEffect', { sound: sound().id, owner: { layer: sound().layers[0]!.id }, effect });
    fixture = TestBed.createComponent(StepEditor);
    fixture.componentRef.setInput('step', step());
    await fixture.whenStable();
    return fixture.nativeElement;
  }

  const turn = async (key: string, value: number | string): Promise<void> => {
    const address = `layer/${sound().layers[0]!.id}/chain/${step().id}/${key}`;
    store.edit('setValues', { sound: sound().id, values: { [address]: value }, label: '' });
    fixture.componentRef.setInput('step', step());
    await fixture.whenStable();
  };

  it('follows the dials: the curve of a drive', async () => {
    const host = await open('drive');
    const curve = (): string => host.querySelector('path.main')!.getAttribute('d')!;
    const before = curve();
    expect(before.length).toBeGreaterThan(500);
    await turn('drive', 40);
    expect(curve()).not.toBe(before);
    expect(host.textContent).toContain('What comes out for what goes in');
  });

  it('counts notes at the tempo of the sound: the echoes of a delay', async () => {
    const host = await open('delay');
    await turn('note', '1/4');
    // At 120 beats a minute, the first echo comes after half a second.
    const stems = [...host.querySelectorAll('line.stem.main')].map((stem) => Number(stem.getAttribute('x1')));
    expect(stems[1]! / stems[0]!).toBeCloseTo(2, 5);
    const before = stems.length;
    const axis = (): string => host.querySelector('.plot')!.textContent;
    expect(axis()).not.toContain('6 s');
    store.edit('setTempo', { sound: sound().id, tempo: { bpm: 60 } });
    await fixture.whenStable();
    expect(host.querySelectorAll('line.stem.main')).toHaveLength(before);
    expect(axis()).toContain('6 s');
  });

  it('is left out where an effect has none', async () => {
    const host = await open('limiter');
    expect(host.querySelector('tc-effect-picture')).toBeNull();
    expect(host.textContent).toContain('Change by band');
  });
});
