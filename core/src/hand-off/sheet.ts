import { measure } from '../analysis/loudness/measure';
import type { Audio } from '../audio/audio';
import { frameCount, silence } from '../audio/audio';
import { hashData } from '../formats/hash';
import type { Delivery, Project } from '../project/schema';
import type { Seconds } from '../units';
import { endings, formOf, numberText } from './form';
import { fillTemplate } from '../formats/file-name';
import type { ManifestFile } from './manifest';
import type { DeliveryItem } from './plan';
import { checkFile } from './pre-flight';
import type { RenderedItem } from './render-item';

/** Silence between the sounds of a sheet, so that none is heard in a neighbour’s place, also behind a lossy format. */
const gap: Seconds = 0.1;

export type SheetParts = NonNullable<ManifestFile['parts']>;

/** The one file that holds a delivery’s sounds; its recipe stands for all of theirs. */
export function sheetItem(project: Pick<Project, 'name'>, delivery: Delivery, items: readonly DeliveryItem[]): DeliveryItem {
  const form = formOf(delivery);
  const recipe = hashData(items.map(({ recipe: own, form: how }) => [own, how])).slice(0, 12);
  const { name } = delivery;
  const fields = {
    project: project.name,
    sound: name,
    number: numberText(delivery.firstNumber, delivery),
    variant: 'sheet',
    stem: 'whole',
    seed: '0',
    recipe,
    role: 'none',
  };
  const stem = fillTemplate(delivery.template, { ...fields, rate: String(form.sampleRate), bits: form.encoding, delivery: name }, delivery);
  return {
    key: 'sheet',
    of: { id: 'sheet', name },
    file: `${stem}.${endings[form.format]}`,
    recipe,
    form: items[0]?.form ?? '',
    seed: 0,
    draws: {},
    // All that its sounds hold is in it, so that it names the sources of them all.
    sound: { ...items[0]!.sound, name, layers: items.flatMap(({ sound }) => sound.layers) },
    loops: undefined,
  };
}

/** Joins rendered items behind each other. Where each lies is told in frames of the sheet. */
export function joinSheet(
  items: readonly Pick<DeliveryItem, 'key' | 'of' | 'loops'>[],
  takes: readonly Audio[],
  delivery: Delivery,
): { readonly rendered: RenderedItem; readonly parts: SheetParts } {
  const { sampleRate } = formOf(delivery);
  const pause = Math.round(gap * sampleRate);
  const channels = Math.max(1, ...takes.map((take) => take.channels.length));
  const frames = takes.reduce((sum, take) => sum + frameCount(take) + pause, 0);
  const sheet = silence(sampleRate, channels, Math.max(0, frames - pause));
  const parts: SheetParts = [];
  let at = 0;
  takes.forEach((take, index) => {
    const { key, of, loops } = items[index]!;
    sheet.channels.forEach((channel, c) => channel.set(take.channels[Math.min(c, take.channels.length - 1)]!, at));
    const length = frameCount(take);
    parts.push({ sound: of.name, key, from: at, to: at + length, loops: loops !== undefined });
    at += length + pause;
  });
  const measured = measure(sheet);
  const findings = checkFile(sheet, measured, { item: { loops: undefined }, delivery: { ...delivery, level: 'as it is' } });
  return { rendered: { audio: sheet, start: 0, measured, findings }, parts };
}
