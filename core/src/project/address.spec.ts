import { effectCatalogue } from '../catalogue';
import { edited, projectWith } from '../testing/project';
import { mono, noise } from '../testing/signals';
import { findProperty, listAddresses } from './address';

describe('the addresses of a sound', () => {
  it.each(['eq', 'dynamic-eq'])(
    'leave out bands of an %s that are off, but keep their switches; what moves them is found all the same',
    (effect) => {
      const { project } = projectWith({ Slab: mono(noise(100)) });
      const sound = project.sounds[0]!.id;
      const added = edited(project, 'addEffect', { sound, owner: 'sound', effect });
      const step = added.sounds[0]!.chain[0]!;
      const turn = (on: boolean) =>
        edited(added, 'setValues', { sound, values: { [`sound/chain/${step.id}/band4On`]: on }, label: 'Band' }).sounds[0]!;
      const ofBand = (on: boolean): string[] =>
        listAddresses(turn(on), effectCatalogue).filter((address) => address.includes('/band4') && !address.endsWith('On'));
      expect(ofBand(false)).toEqual([]);
      expect(ofBand(true).length).toBeGreaterThan(2);
      for (const address of ofBand(true)) expect(findProperty(turn(false), address, effectCatalogue)).toBeDefined();
      expect(listAddresses(turn(false), effectCatalogue)).toContain(`sound/chain/${step.id}/band4On`);
    },
  );
});
