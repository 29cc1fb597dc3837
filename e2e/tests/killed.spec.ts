import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { chromium, expect, test } from '@playwright/test';
import { chromiumArguments, chromiumPath } from '../../scripts/chromium.mjs';
import { undoName } from '../steps';

/** A browser of the test's own with a profile that outlives it, to be killed without a warning. */
async function startBrowser(profile: string): Promise<{ readonly page: Page; kill(): Promise<void> }> {
  const process = spawn(
    chromiumPath,
    [...chromiumArguments, '--headless', '--remote-debugging-port=0', `--user-data-dir=${profile}`, 'about:blank'],
    { detached: true, stdio: ['ignore', 'ignore', 'pipe'] },
  );
  const address = await new Promise<string>((resolve) => {
    let told = '';
    process.stderr.on('data', (bytes: Buffer) => {
      told += bytes.toString();
      const [, found] = /DevTools listening on (ws:\S+)/.exec(told) ?? [];
      if (found !== undefined) resolve(found);
    });
  });
  const browser = await chromium.connectOverCDP(address);
  const page = browser.contexts()[0]!.pages()[0]!;
  await page.setViewportSize({ width: 1280, height: 800 });
  const gone = new Promise<void>((resolve) => process.on('exit', () => resolve()));
  const kill = async (): Promise<void> => {
    // With everything that belongs to it.
    global.process.kill(-process.pid!, 'SIGKILL');
    await gone;
  };
  return { page, kill };
}

test('a browser that is killed loses nothing that was saved, and opens what was there', async ({ baseURL }) => {
  const profile = mkdtempSync(join(tmpdir(), 'choir-killed-'));
  const mute = (page: Page, layer: string) => page.getByRole('button', { name: `Mute ${layer}` });
  const first = await startBrowser(profile);
  await first.page.goto(`${baseURL}/demo`);
  await expect(mute(first.page, 'Slab body')).toBeVisible();
  await mute(first.page, 'Slab body').click();
  await expect(undoName(first.page)).toContainText('Mute “Slab body”');
  await expect(first.page.getByText('saved', { exact: true })).toBeVisible();
  const address = first.page.url();
  await first.kill();

  // Once more, in the middle of edits that follow each other.
  const second = await startBrowser(profile);
  await second.page.goto(address);
  await expect(undoName(second.page)).toContainText('Mute “Slab body”');
  await mute(second.page, 'Fall sweep').click();
  await mute(second.page, 'Boom').click();
  await second.kill();

  const third = await startBrowser(profile);
  await third.page.goto(address);
  await expect(undoName(third.page)).toContainText(/Mute “(Slab body|Fall sweep|Boom)”/);
  await expect(mute(third.page, 'Slab body')).toHaveAttribute('aria-pressed', 'true');
  for (const layer of ['Boom', 'Fall sweep']) {
    if (!(await undoName(third.page).textContent())?.includes(layer)) continue;
    await undoName(third.page).click();
    await expect(undoName(third.page)).not.toContainText(layer);
  }
  await undoName(third.page).click();
  await expect(mute(third.page, 'Slab body')).toHaveAttribute('aria-pressed', 'false');
  await third.kill();
  rmSync(profile, { recursive: true, force: true });
});
