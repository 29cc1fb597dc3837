/** `npm run screenshots`: the pictures in docs/screenshots, from the demo project on the built application. */
import { spawn } from 'node:child_process';
import { chromium } from '@playwright/test';
import { buildAll } from './build.mjs';
import { chromiumArguments, chromiumPath, ensureChromium } from './chromium.mjs';

const port = 4895;
const folder = 'docs/screenshots';

ensureChromium();
buildAll();
const server = spawn(process.execPath, ['--import', 'tsx', 'server/src/main.ts'], {
  env: { ...process.env, PORT: String(port) },
  stdio: ['ignore', 'pipe', 'inherit'],
});
await new Promise((resolve) => server.stdout.once('data', resolve));
const browser = await chromium.launch({
  executablePath: chromiumPath,
  args: chromiumArguments,
});

async function openDemo(colorScheme = 'dark') {
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 }, colorScheme })).newPage();
  await page.goto(`http://127.0.0.1:${port}/demo`);
  await page.waitForURL(/loft$/);
  await page.waitForTimeout(3_000);
  return page;
}

/** Opens a view by its tab. */
const view = (page, name) => page.getByRole('link', { name, exact: true }).click();
const shoot = async (page, name) => {
  // Nothing hovers, no tooltip shows.
  await page.mouse.move(640, 799);
  await page.waitForTimeout(700);
  await page.screenshot({ path: `${folder}/${name}.png` });
};

const page = await openDemo();
await page
  .locator('[aria-label^="Clip Slab knock"]')
  .first()
  .click({ position: { x: 30, y: 20 } });
await page.locator('tc-time-ruler').click({ position: { x: 225, y: 30 } });
await page
  .locator('[aria-label^="Clip Slab knock"]')
  .first()
  .click({ position: { x: 30, y: 20 } });
await page.getByRole('button', { name: /^Band 5/ }).focus();
await page.getByRole('button', { name: 'Play', exact: true }).click();
await page.mouse.move(640, 799);
await page.waitForFunction(() => document.querySelector('path.after')?.getAttribute('d'));
await page.waitForTimeout(300);
await page.screenshot({ path: `${folder}/loft.png` });
await page.getByRole('button', { name: 'Stop', exact: true }).click();

await view(page, 'Gather');
await page.getByRole('listitem', { name: 'Crack running over the lake' }).click();
await page.waitForFunction(() => !document.body.textContent.includes('measuring'), undefined, { timeout: 120_000 });
await shoot(page, 'gather');
await page.getByRole('listitem', { name: 'Ice pebbles' }).click();
await page.getByRole('button', { name: 'Close-up' }).click();
const closeUp = await page.locator('tc-close-up .picture').boundingBox();
for (const [from, to] of [
  [0.03, 0.18],
  [0.19, 0.335],
]) {
  await page.mouse.move(closeUp.x + from * closeUp.width, closeUp.y + 60);
  await page.mouse.down();
  await page.mouse.move(closeUp.x + to * closeUp.width, closeUp.y + 60, { steps: 4 });
  await page.mouse.up();
  await page.waitForTimeout(300);
}
await page.mouse.move(closeUp.x + 0.15 * closeUp.width, closeUp.y + 60);
await page.mouse.wheel(0, -380);
await page.waitForTimeout(1_500);
await shoot(page, 'gather-close-up');
await page.getByRole('button', { name: 'Character map' }).click();
await page.getByRole('listitem', { name: 'Wind over the ridge' }).click();
await page.getByRole('button', { name: 'More for this source' }).click();
await page.getByRole('menuitem', { name: 'Loop doctor…' }).click();
await page.locator('tc-loop-doctor .verdict').waitFor({ timeout: 60_000 });
await shoot(page, 'loop-doctor');
await page.getByRole('button', { name: 'Cancel' }).click();

await view(page, 'Kin');
await page.getByLabel('Choose a sound').click();
await page.getByRole('menuitem', { name: 'Snow step' }).click();
await page.waitForFunction(
  () => [...document.querySelectorAll('article .facts')].filter((facts) => facts.textContent.includes('LUFS')).length === 16,
  undefined,
  { timeout: 30_000 },
);
await page.getByRole('group', { name: /^Map of the family/ }).waitFor();
for (const index of [1, 3, 6, 9, 13, 15]) await page.getByLabel(`Keep sibling ${index}`, { exact: true }).click();
for (const index of [5, 11]) await page.getByLabel(`Drop sibling ${index}`, { exact: true }).click();
await page.getByRole('listitem', { name: /^Sibling 6/ }).focus();
await shoot(page, 'kin');

await view(page, 'Conduct');
await page.getByRole('button', { name: 'Play Walk to the drill' }).and(page.locator(':enabled')).waitFor({ timeout: 120_000 });
await page.getByRole('button', { name: 'Play Walk to the drill' }).click();
await page.getByTestId('output-meter').waitFor();
await page.waitForFunction(() => /00:0[7-9]/.test(document.querySelector('[data-testid=time]').textContent), undefined, {
  timeout: 60_000,
});
await page.getByRole('button', { name: 'Hold the simulator' }).click();
await shoot(page, 'conduct');

await view(page, 'Hand-off');
await page.getByRole('button', { name: 'Pre-flight' }).click();
await page.locator('.verdict').waitFor();
await shoot(page, 'hand-off');

await page.getByRole('link', { name: 'All projects' }).first().click();
await shoot(page, 'projects');

const judged = await openDemo();
await judged
  .getByRole('region', { name: 'Layer Slab body' })
  .locator('tc-clip')
  .first()
  .click({ position: { x: 30, y: 20 } });
await judged.getByRole('button', { name: 'Add an effect' }).click();
await judged.getByRole('menuitem', { name: 'Time and space' }).click();
await judged
  .locator('.offer')
  .filter({ hasText: /^\s*Reverb/ })
  .click();
await judged.locator('tc-time-ruler').click({ position: { x: 225, y: 30 } });
await judged.getByRole('button', { name: 'Play', exact: true }).click();
await judged.waitForTimeout(1_200);
await judged.keyboard.press('y');
await judged.waitForTimeout(1_000);
await judged.screenshot({ path: `${folder}/loft-reverb.png` });
await judged.getByRole('button', { name: 'Stop', exact: true }).click();
await judged.keyboard.press('Control+z');
await judged.getByRole('button', { name: 'What is compared' }).click();
await judged.getByRole('menuitem', { name: 'End the comparison' }).click();
await judged.getByRole('button', { name: 'Seating', exact: true }).click();
await judged.locator('tc-seating-view article').first().waitFor({ timeout: 60_000 });
await shoot(judged, 'loft-seating');
await judged.getByRole('button', { name: 'Meters', exact: true }).click();
await judged.getByLabel('Reference spectrum').click();
await judged.getByRole('option', { name: 'Crack running over the lake' }).click();
await judged.locator('tc-time-ruler').click({ position: { x: 225, y: 30 } });
await judged.getByRole('button', { name: 'Play', exact: true }).click();
await judged.mouse.move(640, 799);
await judged.waitForTimeout(1_300);
await judged.screenshot({ path: `${folder}/loft-meters.png` });
await judged.getByRole('button', { name: 'Stop', exact: true }).click();
await judged.getByRole('button', { name: 'Moves', exact: true }).click();
await judged.getByRole('button', { name: '+ Tide' }).click();
const pull = async (...items) => {
  await judged.getByRole('button', { name: /Pull a property/ }).click();
  for (const item of items) await judged.getByRole('menuitem', { name: item, exact: true }).click();
};
await pull('Gain');
await pull('EQ', 'Band 5 frequency');
await judged.getByRole('button', { name: '+ Rein' }).click();
await judged.getByRole('button', { name: '+ Walk' }).click();
await judged.locator('.mover').first().click();
await shoot(judged, 'loft-moves');

const shaped = await openDemo();
const addEffect = async (family, effect, button = 'Add an effect') => {
  await shaped.getByRole('button', { name: button, exact: true }).click();
  await shaped.getByRole('menuitem', { name: family }).click();
  await shaped.getByRole('menu').last().locator('.offer', { hasText: effect }).first().click();
};
await shaped.keyboard.press('0');
await shaped
  .getByRole('region', { name: 'Layer Slab body' })
  .locator('tc-clip')
  .first()
  .click({ position: { x: 30, y: 20 } });
await addEffect('Hosts', 'Bands');
await addEffect('Dynamics', 'Limiter', 'Add an effect to Band 1');
await shaped.getByRole('button', { name: 'Back to Bands' }).click();
await addEffect('Drive', 'Band drive', 'Add an effect to Band 2');
await shaped.getByRole('button', { name: 'Back to Bands' }).click();
await addEffect('Hosts', 'Side by side', 'Add an effect to Band 3');
await shaped.getByRole('button', { name: 'Back to Bands' }).click();
await shaped.locator('tc-time-ruler').click({ position: { x: 225, y: 30 } });
await shaped.getByRole('button', { name: 'Play', exact: true }).click();
await shaped.mouse.move(640, 799);
await shaped.waitForTimeout(900);
await shaped.screenshot({ path: `${folder}/loft-bands.png` });
await shaped.getByRole('button', { name: 'Stop', exact: true }).click();

const light = await openDemo('light');
await light
  .locator('[aria-label^="Clip Slab knock"]')
  .first()
  .click({ position: { x: 30, y: 20 } });
await shoot(light, 'loft-light');

const moving = await openDemo();
/** Chooses from the menu of a layer, and gives a name where it is asked for. */
const choose = async (layer, items, name) => {
  await moving.getByRole('button', { name: `More for ${layer}`, exact: true }).click();
  for (const item of items) await moving.getByRole('menuitem', { name: item }).click();
  if (!name) return;
  await moving.getByRole('textbox', { name: 'Name' }).fill(name);
  await moving.keyboard.press('Enter');
};
await choose('Sharp crack', ['Group this layer…'], 'Cracks');
await choose('Answering cracks', ['Into a group', 'Cracks']);
await choose('Sharp crack', ['Send to', 'A new shared bus…'], 'Cavern');
await moving.getByRole('button', { name: 'Automation of Pebbles scatter' }).click();
await moving.getByRole('menuitem', { name: 'Pan', exact: true }).click();
await moving.getByRole('button', { name: 'More for the automation of Pebbles scatter: pan' }).click();
await moving.getByRole('menuitem', { name: 'Draw an LFO shape…' }).click();
for (const [name, value] of [
  ['Rate at the start', '0.4'],
  ['Rate at the end', '1.6'],
  ['Lowest', '-0.6'],
  ['Highest', '0.6'],
]) {
  await moving.getByRole('dialog').getByRole('slider', { name }).focus();
  await moving.keyboard.type(value);
  await moving.keyboard.press('Enter');
}
await moving.getByRole('dialog').getByRole('button', { name: 'Draw', exact: true }).click();
await moving.getByRole('button', { name: 'Automation of Cracks' }).click();
await moving.getByRole('menuitem', { name: 'Gain', exact: true }).click();
const strip = moving.getByRole('group', { name: 'Automation of Cracks: gain' });
const { x, y } = await strip.boundingBox();
for (const [right, down] of [
  [120, 60],
  [240, 34],
  [420, 38],
  [560, 76],
])
  await moving.mouse.dblclick(x + right, y + down);
const bend = await strip.locator('.bend').last().boundingBox();
await moving.mouse.move(bend.x + 4, bend.y + 4);
await moving.mouse.down();
await moving.mouse.move(bend.x + 4, bend.y + 18, { steps: 4 });
await moving.mouse.up();
await shoot(moving, 'loft-automation');

// What a bed is made of: a groan with its strain, pebbles with pins.
const stretched = await openDemo();
await stretched.getByLabel('Choose a sound').click();
await stretched.getByRole('menuitem', { name: 'Aurora bed' }).click();
await stretched
  .getByRole('region', { name: 'Layer Slab groan' })
  .locator('tc-clip')
  .first()
  .click({ position: { x: 40, y: 20 } });
await stretched.locator('tc-clip .badge.strain').first().waitFor();
await stretched.locator('tc-selection-inspector').evaluate((inspector) => inspector.scrollTo(0, 2_000));
await stretched.keyboard.press('z');
await shoot(stretched, 'loft-stretch');

// The stages out of made sounds: notes below a lane, a part of its patch; and where they come from.
const made = await openDemo();
await made.getByLabel('Choose a sound').click();
await made.getByRole('menuitem', { name: 'Made stages' }).click();
await made.getByRole('button', { name: 'Notes of Beacon' }).click();
await made.getByRole('listitem', { name: /^Call\./ }).click();
await shoot(made, 'loft-patch');
// A fourth and a fifth by hand, a dial on the wheel.
await made.keyboard.press('Shift+K');
await made.locator('tc-lectern').getByRole('slider', { name: 'Level', exact: true }).click({ button: 'right' });
await made.getByRole('menuitem', { name: 'Move it by the wheel' }).click();
await made.locator('.cdk-overlay-backdrop').waitFor({ state: 'detached' });
for (const key of ['KeyC', 'KeyF', 'KeyT']) await made.keyboard.down(key);
await shoot(made, 'loft-hands');
for (const key of ['KeyC', 'KeyF', 'KeyT']) await made.keyboard.up(key);
await made.keyboard.press('Shift+K');
await made.keyboard.press('Shift+M');
await made.getByRole('radio', { name: 'shine', exact: true }).click();
await shoot(made, 'make');

await browser.close();
server.kill();
