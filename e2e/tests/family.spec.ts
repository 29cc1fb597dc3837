import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { readWav } from '@tangled-choir/core';
import { unzipSync } from 'fflate';
import { graveFaults } from '../accessibility';
import { toneLevel } from '../measure';
import type { UploadFile } from '../recordings';
import { wavFile } from '../recordings';
import { choose, chooseSource, download, handOffSound, menuClosed, newProject, openDemo, openView, undoAndRedo, undoName } from '../steps';

const plan = (page: Page) => page.getByRole('group', { name: /^Map of the family/ });
const dots = (page: Page) => plan(page).getByRole('button');

async function openSnowStep(page: Page): Promise<void> {
  await openDemo(page);
  await openView(page, 'Kin');
  await page.getByLabel('Choose a sound').click();
  await page.getByRole('menuitem', { name: 'Snow step' }).click();
  await expect(dots(page)).toHaveCount(16);
}

/** Half a second of a sine. */
function toneFile(hertz: number): UploadFile {
  const samples = Float32Array.from({ length: 24_000 }, (_, i) => 0.25 * Math.sin((2 * Math.PI * hertz * i) / 48_000));
  return wavFile(`Tone ${hertz}.wav`, { sampleRate: 48_000, channels: [samples] }, '32f');
}

async function keepBest(page: Page, offer: string): Promise<void> {
  await page.getByRole('button', { name: 'Keep the best' }).click();
  await page.getByRole('menuitem', { name: offer }).click();
  await menuClosed(page);
}

test('the best of a family by ear: kept in one step, evened out, fired, and delivered', async ({ page }) => {
  await openSnowStep(page);
  await expect(page.getByText(/Nearest pair/)).toBeVisible();

  await keepBest(page, '6 of 16');
  await expect(page.getByText('6 kept')).toBeVisible();
  await expect(undoName(page)).toHaveAccessibleName(/Keep the best 6/);
  await expect(dots(page).filter({ visible: true })).toHaveCount(16);
  await expect(plan(page).getByRole('button', { name: /, kept/ })).toHaveCount(6);
  await undoAndRedo(page, 1);

  await test.step('their levels come together', async () => {
    await page.getByRole('slider', { name: 'Within' }).focus();
    await page.keyboard.type('0.2');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'Even out' }).dblclick();
    await expect(undoName(page)).toHaveAccessibleName(/Even out/);
    // They are rendered and measured anew; two clicks are as good as one.
    await expect
      .poll(async () => {
        const told = await page
          .locator('article.kept .facts')
          .evaluateAll((facts) => facts.map((each) => Number(/[−-]([\d.]+) LUFS/.exec(each.textContent)?.[1])));
        return told.length === 6 ? Math.max(...told) - Math.min(...told) : Infinity;
      })
      .toBeLessThanOrEqual(0.31);
  });

  await test.step('they are heard one after the other, until that is stopped', async () => {
    await page.keyboard.press('f');
    await expect(page.getByRole('button', { name: 'Stop', exact: true }).first()).toBeVisible();
    await expect.poll(async () => Number(await page.getByTestId('output-meter').getAttribute('aria-valuenow'))).toBeGreaterThan(-50);
    await page.keyboard.press('f');
    await expect(page.getByRole('button', { name: 'Fire' })).toBeVisible();
  });

  await test.step('laid out one after the other, they are a sound of their own', async () => {
    await page.getByRole('button', { name: 'Lay out' }).click();
    await expect(undoName(page)).toHaveAccessibleName(/6 siblings of “Snow step”/);
    await page.getByLabel('Choose a sound').click();
    await expect(page.getByRole('menuitem', { name: 'Snow step × 6' })).toBeVisible();
    await page.keyboard.press('Escape');
    await menuClosed(page);
  });

  await test.step('a click on the map chooses and plays one', async () => {
    await plan(page)
      .getByRole('button', { name: /^Sibling 7 on the map/ })
      .click();
    await expect(page.getByRole('heading', { name: 'Sibling 7' })).toBeVisible();
  });

  await handOffSound(page);
  const entries = unzipSync(await download(page, () => page.getByRole('button', { name: 'Write zip' }).click()));
  const steps = Object.keys(entries).filter((name) => /snow.?step/i.test(name) && name.endsWith('.wav'));
  expect(steps.length).toBeGreaterThanOrEqual(6);
  const seen = new Set(steps.map((name) => readWav(entries[name]!).audio.channels[0]!.join(' ').slice(0, 20_000)));
  expect(seen.size).toBe(steps.length);
});

test('a family that does not vary is told to be one sound', async ({ page }) => {
  await newProject(page);
  await page.getByRole('button', { name: 'Make something' }).click();
  const dialog = page.getByRole('dialog', { name: 'Make a sound' });
  await dialog.getByRole('radio', { name: 'beacon', exact: true }).click();
  await dialog.getByRole('option', { name: /Beacon/ }).click();
  await dialog.getByRole('button', { name: 'Keep “Beacon” as a layer' }).click();
  await openView(page, 'Kin');
  await page.getByRole('button', { name: 'Make eight siblings' }).click();
  await expect(dots(page)).toHaveCount(8);
  await expect(page.getByText(/0\.0 dB, heard as the same/)).toBeVisible();
  await expect(plan(page).locator('.twins')).toHaveCount(28);
});

test('a clip plays one of several: all before one comes again, in the grid and in the delivered files', async ({ page }) => {
  await newProject(page);
  const tones = [400, 900, 2_000] as const;
  await page.getByTestId('import-input').setInputFiles(tones.map(toneFile));
  await chooseSource(page, 'Tone 400');
  await page.getByRole('button', { name: 'Place in Loft' }).first().click();
  await expect(page.locator('tc-clip')).toHaveCount(1);
  await openView(page, 'Kin');
  await page.getByRole('button', { name: 'Make eight siblings' }).click();
  await choose(page.getByLabel('Let something else vary'), 'What it plays');
  const more = page.getByLabel(/play another one/);
  for (const hertz of [900, 2_000]) {
    await choose(more, 'The whole', `Tone ${hertz}`);
  }
  await expect(page.getByText('1 of 3')).toBeVisible();
  await expect(undoName(page)).toHaveAccessibleName(/plays/);
  await expect(dots(page)).toHaveCount(8);
  const letters = await page
    .locator('article .facts')
    .evaluateAll((facts) => facts.map((each) => /\b([abc])\b/.exec(each.textContent)?.[1] ?? ''));
  for (const bag of [letters.slice(0, 3), letters.slice(3, 6)]) expect([...bag].sort()).toEqual(['a', 'b', 'c']);
  for (let i = 1; i < letters.length; i++) expect(letters[i]).not.toBe(letters[i - 1]);

  await page.keyboard.press('Shift+K');
  await expect(page.getByText('8 kept')).toBeVisible();
  await handOffSound(page);
  const entries = unzipSync(await download(page, () => page.getByRole('button', { name: 'Write zip' }).click()));
  const names = Object.keys(entries)
    .filter((name) => name.endsWith('.wav'))
    .sort();
  const loudest = names.map((name) => {
    const heard = readWav(entries[name]!).audio.channels[0]!;
    return tones.toSorted((a, b) => toneLevel(heard, b, 0.1) - toneLevel(heard, a, 0.1))[0];
  });
  // The original comes along with its eight siblings.
  expect(loudest).toHaveLength(9);
  const siblings = letters.map((letter) => tones['abc'.indexOf(letter)]!);
  expect([...loudest].sort()).toEqual([400, ...siblings].sort());
});

test('how many layers are there, steps of octaves and a link: drawn, told apart by ear, and in the delivered files', async ({ page }) => {
  await newProject(page);
  const tones = [400, 1_800, 6_000] as const;
  await page.getByTestId('import-input').setInputFiles(tones.map(toneFile));
  for (const [placed, hertz] of tones.entries()) {
    await openView(page, 'Gather');
    await chooseSource(page, `Tone ${hertz}`);
    await page.getByRole('button', { name: 'Place in Loft' }).first().click();
    await expect(page.locator('tc-clip')).toHaveCount(placed + 1);
  }
  await openView(page, 'Kin');
  await page.getByRole('button', { name: 'Make eight siblings' }).click();
  const more = page.getByLabel('Let something else vary');

  await test.step('exactly one of the three layers is there', async () => {
    await choose(more, 'Number of layers');
    await expect(page.getByText('1 to 3 of 3')).toBeVisible();
    await page.getByRole('slider', { name: 'Layers how many highest' }).focus();
    await page.keyboard.press('ArrowLeft');
    await expect(page.getByText('1 to 2 of 3')).toBeVisible();
    await page.keyboard.press('ArrowLeft');
    await expect(page.getByText('1 of 3', { exact: true })).toBeVisible();
  });

  await test.step('the lowest is moved by octaves, and the highest goes along', async () => {
    for (const hertz of [400, 6_000]) {
      await choose(more, 'Speed', `Tone ${hertz}`);
    }
    await page.getByLabel('How Tone 400 speed is drawn').click();
    await choose(page.getByLabel('Steps of Tone 400 speed'), 'octaves');
    await expect(undoName(page)).toHaveAccessibleName(/Tone 400, speed is drawn/);
    for (const [end, key] of [
      ['lowest', 'Home'],
      ['highest', 'End'],
    ] as const) {
      await page.getByRole('slider', { name: `Tone 400 speed ${end}` }).focus();
      await page.keyboard.press(key);
      const reached = key === 'Home' ? '-12' : '12';
      await expect(page.getByRole('slider', { name: `Tone 400 speed ${end}` })).toHaveAttribute('aria-valuenow', reached);
    }
    await expect(page.getByText('±12.0 st')).toBeVisible();
    await page.getByLabel('How Tone 6000 speed is drawn').click();
    await choose(page.getByLabel('What Tone 6000 speed goes along with'), 'Tone 400 · speed');
    await page.getByLabel('How Tone 6000 speed is drawn').click();
    await expect(page.getByText('with Tone 400 speed')).toBeVisible();
    // Who leads cannot go along with who goes along with it.
    await page.getByLabel('How Tone 400 speed is drawn').click();
    await page.getByLabel('What Tone 400 speed goes along with').click();
    await expect(page.getByRole('option')).toHaveText(['nothing']);
    await page.keyboard.press('Escape');
    await undoAndRedo(page, 1);
  });

  await test.step('what differs in one is told', async () => {
    await expect(dots(page)).toHaveCount(8);
    await page.locator('article').first().click();
    await page.getByRole('button', { name: 'What differs here' }).click();
    const told = page.getByRole('list', { name: 'What differs here' }).getByRole('listitem');
    await expect(told.filter({ hasText: 'Layers · how many' })).toHaveCount(1);
    const sizes = await told
      .locator('.number:not(.quiet)')
      .evaluateAll((items) => items.map((item) => Number(/([\d.]+) dB/.exec(item.textContent)?.[1])));
    expect(sizes).toEqual(sizes.toSorted((a, b) => b - a));
  });

  await page.keyboard.press('Shift+K');
  await expect(page.getByText('8 kept')).toBeVisible();
  await handOffSound(page);
  const entries = unzipSync(await download(page, () => page.getByRole('button', { name: 'Write zip' }).click()));
  const heard = Object.keys(entries)
    .filter((name) => name.endsWith('.wav'))
    .map((name) => {
      const samples = readWav(entries[name]!).audio.channels[0]!;
      return [200, 400, 800, 1_800, 6_000].filter((hertz) => toneLevel(samples, hertz, 0.1) > -40);
    });
  // Of the original all three are heard, of a sibling one alone: the lowest in octaves; the highest, which has no steps, may lie between those that are looked for.
  expect(heard.filter((each) => each.join() === '400,1800,6000')).toHaveLength(1);
  expect(heard.filter((each) => each.length <= 1)).toHaveLength(8);
  expect(heard.flat().filter((hertz) => hertz < 1_000).length).toBeGreaterThan(1);
});

test('Kin with its map has no accessibility faults', async ({ page }) => {
  await openSnowStep(page);
  expect(await graveFaults(page)).toEqual([]);
});
