import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import type { Page, TestInfo } from '@playwright/test';
import { expect, test } from '@playwright/test';
import type { LogEntry } from '@tangled-choir/core';
import { readWav } from '@tangled-choir/core';
import { graveFaults } from '../accessibility';
import { residual } from '../measure';
import { download } from '../steps';

const demo = 'dist/halda-station.choir';

/** What the command line decides and hears of the same moves. */
function conduct(info: TestInfo, script: string): { readonly log: readonly LogEntry[]; readonly heard: readonly Float32Array[] } {
  const [moves, log, wav] = ['moves.json', 'log.json', 'heard.wav'].map((name) => info.outputPath(name));
  writeFileSync(moves!, script);
  execFileSync(process.execPath, ['scripts/choir.mjs', 'conduct', demo, '--script', moves!, '--log', log!, '--out', wav!]);
  return {
    log: JSON.parse(readFileSync(log!, 'utf8')) as LogEntry[],
    heard: readWav(new Uint8Array(readFileSync(wav!))).audio.channels,
  };
}

const lines = (page: Page) => page.getByRole('list', { name: 'What is heard' }).getByRole('listitem');

test('a game is played by keys, and what it decided is decided again from its moves', async ({ page }, info) => {
  await page.goto('/game/index.html');
  await expect(page.getByRole('status')).toHaveText('Press “Begin”.');
  expect(await graveFaults(page)).toEqual([]);
  await page.getByRole('button', { name: 'Begin' }).click();
  await expect(lines(page).filter({ hasText: 'play Ridge' })).toHaveCount(1);
  for (let step = 1; step <= 4; step++) {
    await page.keyboard.press('ArrowUp');
    await expect(lines(page).filter({ hasText: 'play On crust' })).toHaveCount(step);
  }
  await page.keyboard.press('d');
  await expect(page.getByRole('button', { name: 'Drill' })).toHaveAttribute('aria-pressed', 'true');
  await expect(lines(page).filter({ hasText: 'play Run' })).toHaveCount(1);
  await page.getByRole('slider', { name: 'Wind' }).fill('25');
  await page.locator('#field').focus();
  await page.keyboard.press('d');
  await expect(lines(page).filter({ hasText: 'play Stop' })).toHaveCount(1);

  const script = new TextDecoder().decode(await download(page, () => page.getByRole('button', { name: 'Save the moves' }).click()));
  const { seconds } = JSON.parse(script) as { seconds: number };
  const shown = (await lines(page).allTextContents()).toReversed().filter((line) => Number(line.split(' ')[0]) < seconds - 0.001);
  const { log } = conduct(info, script);
  const again = log.flatMap((entry) =>
    'behaviour' in entry && entry.at < seconds - 0.001
      ? [`${entry.at.toFixed(3)} ${entry.do} ${entry.behaviour}${entry.do === 'play' ? `: ${entry.asset}` : ''}`]
      : [],
  );
  expect(again.length).toBeGreaterThan(10);
  expect(again).toEqual(shown);
});

test('the player sounds as the command line does', async ({ page }, info) => {
  await page.goto('/game/index.html');
  await expect(page.getByRole('status')).toHaveText('Press “Begin”.');
  const moves = [
    { at: 0, move: { do: 'listener', x: 4, y: 1, facing: 60 } },
    { at: 0, move: { do: 'trigger', behaviour: 'Wind' } },
    { at: 0.1, move: { do: 'trigger', behaviour: 'Core drill' } },
    { at: 0.3, move: { do: 'trigger', behaviour: 'Pebbles slide' } },
    { at: 0.5, move: { do: 'set', parameter: 'Wind', value: 27 } },
    { at: 0.7, move: { do: 'set', parameter: 'Powder', value: 1 } },
    { at: 0.9, move: { do: 'trigger', behaviour: 'Steps on snow' } },
    { at: 1.4, move: { do: 'trigger', behaviour: 'Radio call' } },
    { at: 2.9, move: { do: 'stop', behaviour: 'Core drill' } },
  ];
  const seconds = 4;
  const played = await page.evaluate(
    async ({ moves, seconds }) => {
      interface Loaded {
        readonly data: { readonly behaviours: readonly Named[]; readonly parameters: readonly Named[] };
      }
      interface Named {
        readonly id: string;
        readonly name: string;
      }
      interface Conducted {
        move(move: object, frame: number): void;
        run(on: boolean): void;
        onreport: (report: { type: string }) => void;
      }
      const module = (await import(new URL('player.js', document.baseURI).href)) as {
        load(address: string, options: object): Promise<Loaded & { readonly conductor: Conducted }>;
      };
      const context = new OfflineAudioContext(2, seconds * 48_000, 48_000);
      const player = await module.load('conduct.json', { processor: new URL('processor.js', document.baseURI), context });
      const idOf = (key: string, name: string): string =>
        (key === 'behaviour' ? player.data.behaviours : player.data.parameters).find((each) => each.name === name)!.id;
      const { conductor } = player;
      // All moves are known before the first frame is rendered.
      await new Promise<void>((resolve) => {
        let known = 0;
        conductor.onreport = ({ type }) => {
          if (type === 'moved' && ++known === moves.length) resolve();
        };
        // Before them, so that it is known, too.
        conductor.run(true);
        for (const { at, move } of moves) {
          const named = { ...move } as Record<string, unknown>;
          for (const key of ['behaviour', 'parameter']) if (typeof named[key] === 'string') named[key] = idOf(key, named[key]);
          conductor.move(named, Math.round(at * 48_000));
        }
      });
      const rendered = await context.startRendering();
      return [0, 1].map((c) => Array.from(rendered.getChannelData(c)));
    },
    { moves, seconds },
  );
  const { heard, log } = conduct(info, JSON.stringify({ seconds, moves }));
  expect(log.filter((entry) => entry.do === 'play').length).toBeGreaterThan(15);
  played.forEach((channel, c) => {
    expect(residual(heard[c]!, Float32Array.from(channel), 0, seconds * 48_000)).toBeLessThan(-60);
  });
});
