import { expect, test } from '@playwright/test';
import { toneLevel } from '../measure';
import { bellFile, silentFile } from '../recordings';
import { chooseSource, deliveredOriginal, menuClosed, newProject, openView, turn, undoAndRedo, undoName } from '../steps';

test('what is made keeps its controls as reins: an octave up, automated like any dial, undone, and back after a reload', async ({
  page,
}) => {
  await newProject(page);
  await page.getByRole('button', { name: 'Make something' }).click();
  const dialog = page.getByRole('dialog', { name: 'Make a sound' });
  await dialog.getByRole('radio', { name: 'beacon', exact: true }).click();
  await dialog.getByRole('option', { name: /Beacon/ }).click();
  await expect(dialog.getByRole('checkbox', { name: 'The layer keeps the controls' })).toBeChecked();
  await dialog.getByRole('button', { name: 'Keep “Beacon” as a layer' }).click();
  await page.getByRole('button', { name: 'Patch', exact: true }).click();
  const shared = page.getByRole('region', { name: 'Voices and tuning' });
  await expect(shared.getByRole('slider', { name: 'Height' })).toHaveAttribute('aria-valuetext', /50 %/);
  let heard = (await deliveredOriginal(page)).channels[0]!;
  expect(toneLevel(heard, 880, 0.1)).toBeGreaterThan(toneLevel(heard, 1_760, 0.1) + 20);

  // Its end is an octave above.
  await turn(page, 'Height', '100');
  await expect(undoName(page)).toHaveAccessibleName(/Rein “Beacon: height”/);
  heard = (await deliveredOriginal(page)).channels[0]!;
  expect(toneLevel(heard, 1_760, 0.1)).toBeGreaterThan(toneLevel(heard, 880, 0.1) + 20);
  await undoAndRedo(page, 1);

  await test.step('one that pulls to one side only does nothing at its beginning', async () => {
    await page.getByRole('button', { name: 'Moves', exact: true }).click();
    await page.getByRole('button', { name: 'rein Beacon: height' }).click();
    const bothWays = page.getByRole('checkbox', { name: 'Pulls both ways' });
    await expect(bothWays).toBeChecked();
    await bothWays.uncheck();
    await turn(page, 'Beacon: height', '0');
    heard = (await deliveredOriginal(page)).channels[0]!;
    expect(toneLevel(heard, 880, 0.1)).toBeGreaterThan(toneLevel(heard, 440, 0.1) + 20);
    await bothWays.check();
    heard = (await deliveredOriginal(page)).channels[0]!;
    expect(toneLevel(heard, 440, 0.1)).toBeGreaterThan(toneLevel(heard, 880, 0.1) + 20);
  });

  await expect(page.getByText('saved', { exact: true })).toBeVisible();
  await page.reload();
  const again = (await deliveredOriginal(page)).channels[0]!;
  expect(toneLevel(again, 440, 0.1)).toBeCloseTo(toneLevel(heard, 440, 0.1), 3);
});

test('a body takes the modes of a recording; of one that does not ring, the reason is told and nothing changes', async ({ page }) => {
  await newProject(page);
  await page.getByTestId('import-input').setInputFiles([
    bellFile([
      [440, 0.3, 1.5],
      [1_210, 0.25, 1.2],
    ]),
    silentFile(),
  ]);
  await chooseSource(page, 'Nothing');
  await page.getByRole('button', { name: 'Make', exact: true }).click();
  const dialog = page.getByRole('dialog', { name: 'Make a sound' });
  await dialog.getByRole('radio', { name: 'beacon', exact: true }).click();
  await dialog.getByRole('option', { name: /Beacon/ }).click();
  await dialog.getByRole('button', { name: 'Keep “Beacon” as a layer' }).click();
  await page.getByRole('button', { name: 'Part', exact: true }).click();
  await page.getByRole('menuitem', { name: /^Body/ }).click();
  await menuClosed(page);
  const take = async (source: string): Promise<void> => {
    await page.getByRole('button', { name: 'Take modes from…' }).click();
    await page.getByRole('menuitem', { name: source }).click();
    await menuClosed(page);
  };
  await expect(page.getByText(/8 modes at A3/)).toBeVisible();
  await take('Nothing');
  await expect(page.getByText('Nothing: Nothing in it rings')).toBeVisible();
  await expect(page.getByText(/8 modes at A3/)).toBeVisible();
  await take('Bell');
  await expect(page.getByText(/2 modes at A3/)).toBeVisible();
  await expect(undoName(page)).toHaveAccessibleName(/Modes of Bell/);

  // The beacon calls at A5: there the lowest mode lies, and the other one as far above as in the bell.
  await page.getByRole('button', { name: 'Switch Call' }).click();
  const heard = (await deliveredOriginal(page)).channels[0]!;
  for (const hertz of [880, (880 * 1_210) / 440]) expect(toneLevel(heard, hertz, 0.1)).toBeGreaterThan(toneLevel(heard, 1_500, 0.1) + 25);
  await openView(page, 'Loft');
  await undoAndRedo(page, 1);
});
