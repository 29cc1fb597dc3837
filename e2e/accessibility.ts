import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';

/** Every fade has come to its end, and none begins under the pointer: a label that is half faded in has half its contrast. */
const settled = async (page: Page): Promise<void> => {
  await page.mouse.move(0, 0);
  await page.waitForFunction(() =>
    document.getAnimations().every(({ playState, effect }) => playState !== 'running' || effect?.getComputedTiming().endTime === Infinity),
  );
};

/** The serious accessibility faults of what is on the screen, or of the part of it that a selector names. */
export const graveFaults = async (page: Page, within?: string): Promise<string[]> => {
  await settled(page);
  // Legacy mode judges in the page itself; there are no frames, and no second page takes the processor.
  const builder = new AxeBuilder({ page }).setLegacyMode(true).options({ resultTypes: ['violations'] });
  const { violations } = await (within === undefined ? builder : builder.include(within)).analyze();
  return violations
    .filter(({ impact }) => impact === 'serious' || impact === 'critical')
    .map(({ id, nodes }) => `${id}: ${nodes.map(({ target }) => target.join(' ')).join(', ')}`);
};
