import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import type { ComponentFixture } from '@angular/core/testing';
import { MatSelectHarness } from '@angular/material/select/testing';

/** The box of choices that is called so. */
export function choiceBox(fixture: ComponentFixture<unknown>, label: string): Promise<MatSelectHarness> {
  return TestbedHarnessEnvironment.loader(fixture).getHarness(MatSelectHarness.with({ selector: `[aria-label="${label}"]` }));
}

/** The names of what a box offers. */
export async function offered(fixture: ComponentFixture<unknown>, label: string): Promise<string[]> {
  const box = await choiceBox(fixture, label);
  await box.open();
  const names = await Promise.all((await box.getOptions()).map((option) => option.getText()));
  await box.close();
  return names;
}

/** Chooses by name what a box offers, of a group if there are any. */
export async function choose(fixture: ComponentFixture<unknown>, label: string, name: string, group?: string): Promise<void> {
  const box = await choiceBox(fixture, label);
  await box.open();
  const [list] = group === undefined ? [box] : await box.getOptionGroups({ labelText: group });
  const [option] = (await list?.getOptions({ text: name })) ?? [];
  if (!option) throw new Error(`“${label}” offers ${(await offered(fixture, label)).join(', ')}, but not “${name}”.`);
  await option.click();
}
