import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import { configureStores, openProject } from '../../../testing/project';
import type { DocumentStore } from '../../state/project/document.store';
import { ChainStates } from './chain-states';

describe('states of the chain', () => {
  let fixture: ComponentFixture<ChainStates>;
  let store: InstanceType<typeof DocumentStore>;

  const layer = () => store.project()!.sounds[0]!.layers[0]!;
  const button = (letter: string): HTMLElement =>
    [...(fixture.nativeElement as HTMLElement).querySelectorAll<HTMLElement>('.states button')].find(
      (each) => each.textContent!.trim() === letter,
    )!;
  const press = async (letter: string, shiftKey = false): Promise<void> => {
    button(letter).dispatchEvent(new MouseEvent('click', { bubbles: true, shiftKey }));
    await fixture.whenStable();
  };
  const turn = async (gain: number): Promise<void> => {
    const { id, chain } = layer();
    store.edit('setValues', {
      sound: store.project()!.sounds[0]!.id,
      values: { [`layer/${id}/chain/${chain[0]!.id}/gain`]: gain },
      label: 'Turn',
    });
    await fixture.whenStable();
  };

  beforeEach(async () => {
    configureStores();
    store = await openProject();
    store.edit('addEffect', { sound: store.project()!.sounds[0]!.id, owner: { layer: layer().id }, effect: 'trim' });
    fixture = TestBed.createComponent(ChainStates);
    await fixture.whenStable();
  });

  it('keeps the chain under a letter, goes back to it, and says which one holds', async () => {
    await press('A');
    await turn(-9);
    await press('B');
    expect([button('A'), button('B')].map((each) => each.getAttribute('aria-pressed'))).toEqual(['false', 'true']);
    await press('A');
    expect(layer().chain[0]!.parameters['gain']).toBe(0);
    expect(button('A').getAttribute('aria-pressed')).toBe('true');
    await turn(6);
    await press('A', true);
    await press('B');
    await press('A');
    expect(layer().chain[0]!.parameters['gain']).toBe(6);
    store.undo();
    expect(layer().chain[0]!.parameters['gain']).toBe(-9);
  });

  it('morphs between two by a dial', async () => {
    await press('A');
    await turn(-20);
    await press('B');
    (fixture.nativeElement as HTMLElement).querySelector<HTMLElement>('[aria-label="More about states"]')!.click();
    await fixture.whenStable();
    [...document.querySelectorAll<HTMLElement>('[mat-menu-item]')].find((item) => item.textContent!.includes('Morph A → B'))!.click();
    await fixture.whenStable();
    expect(layer().chain[0]!.parameters['gain']).toBe(0);
    const dial = (fixture.nativeElement as HTMLElement).querySelector<HTMLElement>('tc-value')!;
    for (const key of ['5', '0', 'Enter']) {
      (dial.querySelector('input') ?? dial).dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
      await fixture.whenStable();
      const input = dial.querySelector('input');
      if (input && key !== 'Enter') input.value = key === '5' ? '5' : '50';
    }
    expect(Number(layer().chain[0]!.parameters['gain'])).toBeCloseTo(-10, 6);
  });
});
