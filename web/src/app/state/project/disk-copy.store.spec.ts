import { TestBed } from '@angular/core/testing';
import { openEmptyProject, projectProviders } from '../../../testing/project';
import { CopyRecords } from '../../storage/copy-records';
import { Notices } from '../notices';
import { DiskCopy } from './disk-copy.store';
import { ProjectShelf } from './project-shelf';

const hour = 3_600_000;

describe('a project that is in the browser alone', () => {
  it('is asked for after a day of work, once, and counts anew when it was taken out', async () => {
    const offers: { readonly message: string; readonly act: () => void }[] = [];
    TestBed.configureTestingModule({
      providers: [
        ...projectProviders,
        {
          provide: Notices,
          useValue: {
            error: fail,
            info: () => undefined,
            offer: (message: string, _: string, act: () => void) => offers.push({ message, act }),
          },
        },
      ],
    });
    const document = await openEmptyProject();
    const { id } = document.project()!;
    TestBed.inject(DiskCopy);
    const records = TestBed.inject(CopyRecords);
    const exported = jest.spyOn(TestBed.inject(ProjectShelf), 'exportArchive').mockImplementation(() => records.markKept(id, Date.now()));
    const noted = jest.spyOn(records, 'markChanged');
    const clock = jest.spyOn(Date, 'now');
    const begin = Date.UTC(2026, 11, 1);
    const edit = async (after: number, name: string): Promise<void> => {
      clock.mockReturnValue(begin + after * hour);
      TestBed.tick();
      document.edit('addSound', { name });
      TestBed.tick();
      await noted.mock.results.at(-1)!.value;
      await Promise.resolve();
    };
    await edit(0, 'Drill');
    expect((await records.load(id)).changedSince).toBe(begin);
    await edit(7.9, 'Beacon');
    expect(offers).toEqual([]);
    await edit(8.1, 'Rope');
    expect(offers.map(({ message }) => message)).toEqual(['“Halda” is in this browser alone. Take a copy of your day’s work.']);
    await edit(9, 'Snow');
    expect(offers).toHaveLength(1);
    offers[0]!.act();
    await exported.mock.results[0]!.value;
    await edit(10, 'Ice');
    expect((await records.load(id)).changedSince).toBe(begin + 10 * hour);
    clock.mockRestore();
  });
});

const fail = (text: string): void => {
  throw new Error(text);
};
