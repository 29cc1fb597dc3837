import { Component, signal } from '@angular/core';
import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import { choiceBox, choose, offered } from '../../testing/choices';
import { ChoiceField, namedOffers, offersOf, sourceOffers } from './choice-field';

@Component({
  imports: [ChoiceField],
  template: `
    <tc-choice label="Texture" [offers]="textures" [value]="texture()" (chosen)="turn($event)" />
    <tc-choice bare label="Add" placeholder="Add…" [groups]="groups" value="" (chosen)="added.push($event)" />
    <tc-choice label="Role" placeholder="different ones" [offers]="textures" [value]="undefined" />
  `,
})
class Host {
  readonly textures = offersOf(['smooth', 'dust', 'crackle']);
  readonly groups = [
    { name: 'Wind', offers: [{ value: 'wind/gain', name: 'Gain' }] },
    { name: 'Ice', offers: [{ value: 'ice/gain', name: 'Gain' }] },
  ];
  readonly texture = signal('dust');
  readonly added: string[] = [];

  turn(texture: string): void {
    // One is refused.
    if (texture !== 'crackle') this.texture.set(texture);
  }
}

describe('a box of choices', () => {
  let fixture: ComponentFixture<Host>;

  beforeEach(async () => {
    fixture = TestBed.createComponent(Host);
    await fixture.whenStable();
  });

  const shown = async (label: string): Promise<string> => (await choiceBox(fixture, label)).getValueText();

  it('shows what it is given, also when a choice was refused', async () => {
    expect(await shown('Texture')).toBe('dust');
    await choose(fixture, 'Texture', 'smooth');
    expect(await shown('Texture')).toBe('smooth');
    await choose(fixture, 'Texture', 'crackle');
    expect(await shown('Texture')).toBe('smooth');
    fixture.componentInstance.texture.set('dust');
    await fixture.whenStable();
    expect(await shown('Texture')).toBe('dust');
  });

  it('adds the same again and again where it stands for no value', async () => {
    await choose(fixture, 'Add', 'Gain', 'Ice');
    await choose(fixture, 'Add', 'Gain', 'Ice');
    await choose(fixture, 'Add', 'Gain', 'Wind');
    expect(fixture.componentInstance.added).toEqual(['ice/gain', 'ice/gain', 'wind/gain']);
    expect(fixture.nativeElement.querySelectorAll('mat-select')[1].textContent).toContain('Add…');
  });

  it('says so where several differ', () => {
    expect(fixture.nativeElement.querySelectorAll('mat-select')[2].textContent).toContain('different ones');
  });

  it('makes its list when somebody comes to it', async () => {
    const box = fixture.nativeElement.querySelector('mat-select') as HTMLElement;
    // By keys alone, without opening it.
    box.focus();
    await fixture.whenStable();
    box.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowUp', keyCode: 38, bubbles: true }));
    await fixture.whenStable();
    expect(fixture.componentInstance.texture()).toBe('smooth');
    expect(await offered(fixture, 'Texture')).toEqual(['smooth', 'dust', 'crackle']);
  });

  it('offers things by name, behind nothing', () => {
    const things = [
      { id: 'b', name: 'Wind' },
      { id: 'a', name: 'Ice' },
    ];
    expect(namedOffers(things).map(({ value }) => value)).toEqual(['b', 'a']);
    expect(sourceOffers(things, 'none')).toEqual([
      { value: '', name: 'none' },
      { value: 'a', name: 'Ice' },
      { value: 'b', name: 'Wind' },
    ]);
  });
});
