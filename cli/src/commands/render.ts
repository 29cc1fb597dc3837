import { join } from 'node:path';
import type { Delivery, DeliveryItem, Project, Sound } from '@tangled-choir/core';
import { collidingNames, effectCatalogue, planSound, prepareHashing, sourceIdentities, startingDelivery } from '@tangled-choir/core';
import type { SharedAudio, WorkerPool } from '@tangled-choir/jobs';
import { createSoundLoader } from '@tangled-choir/jobs';
import type { Command } from 'commander';
import { wrongInput } from '../failure';
import { checkFolder, readSounds, writeBytes } from '../files';
import type { Output } from '../output';
import { encodingOption, moment, wholeNumber } from './options';

interface RenderArguments {
  readonly sound: string;
  readonly family?: string;
  readonly seed?: string;
  readonly out: string;
  readonly rate?: string;
  readonly bits?: string;
  readonly stems?: boolean;
}

export function renderCommand(program: Command, output: Output, createPool: () => WorkerPool): void {
  program
    .command('render')
    .description('Renders a sound of a .choir file, its family or its stems.')
    .argument('<file>', '.choir file')
    .requiredOption('--sound <name>', 'name of the sound')
    .option('--family <n>', 'render n siblings instead of the original')
    .option('--seed <n>', 'seed of the family')
    .option('--out <folder>', 'where to write', '.')
    .option('--rate <hz>', '22050, 44100, 48000 or 96000')
    .option('--bits <bits>', '16, 24 or 32f')
    .option('--stems', 'one file per layer')
    .action(async (file: string, options: RenderArguments) => {
      await prepareHashing();
      checkFolder(options.out);
      const { project, recordings } = await readSounds(file);
      const sound = project.sounds.find((candidate) => candidate.name === options.sound);
      if (!sound)
        throw wrongInput(
          `There is no sound “${options.sound}” in ${file}; it has ${project.sounds.map((each) => `“${each.name}”`).join(', ') || 'none'}.`,
        );
      const delivery = deliveryFrom(project, options);
      const variant = variantOf(sound, options);
      const items = options.stems ? stemsOnly(project, variant, delivery) : planned(project, variant, delivery);
      await renderAll(project, items, delivery, recordings, options.out, output, createPool());
    });
}

/** As the first delivery of sounds asks, as far as no option says otherwise; always WAV. */
function deliveryFrom({ deliveries }: Project, options: RenderArguments): Delivery {
  const base = deliveries.find(({ content }) => content === 'sounds') ?? startingDelivery;
  const rate = options.rate === undefined ? base.sampleRate : wholeNumber('--rate', options.rate, 1, 1_000_000);
  if (rate !== 22_050 && rate !== 44_100 && rate !== 48_000 && rate !== 96_000)
    throw wrongInput(`--rate is 22050, 44100, 48000 or 96000, not “${rate}”.`);
  const family = options.family !== undefined;
  return {
    ...base,
    format: 'wav',
    sheet: false,
    stems: 'none',
    sampleRate: rate,
    encoding: options.bits === undefined ? base.encoding : encodingOption(options.bits),
    original: !family,
    kept: family,
  };
}

/** The sound with the wanted family. */
function variantOf(sound: Sound, options: RenderArguments): Sound {
  let wanted = sound;
  if (options.seed !== undefined)
    wanted = { ...wanted, family: { ...wanted.family, seed: wholeNumber('--seed', options.seed, 0, 0xffffffff) } };
  if (options.family !== undefined) {
    const size = wholeNumber('--family', options.family, 1, 1_000);
    const seeded = options.seed !== undefined;
    const siblings = Array.from({ length: size }, (_, index) => {
      const known = seeded ? undefined : wanted.family.siblings[index];
      return { roll: known?.roll ?? 0, state: 'kept' as const, ...(known?.draws && { draws: known.draws }) };
    });
    wanted = { ...wanted, family: { ...wanted.family, siblings } };
  }
  return wanted;
}

function planned(project: Project, sound: Sound, delivery: Delivery): DeliveryItem[] {
  const items = planSound(project, sound, delivery, effectCatalogue);
  const [collision] = collidingNames(items);
  if (collision)
    throw wrongInput(`Several files would be called ${collision}; put {number} into the naming template of “${delivery.name}”.`);
  return items;
}

/** Only the stems of everything planned, each named by its layer. */
function stemsOnly(project: Project, sound: Sound, delivery: Delivery): DeliveryItem[] {
  const named = delivery.template.replace('{sound}', '{sound}-{stem}');
  const template = delivery.template.includes('{stem}') ? delivery.template : named.includes('{stem}') ? named : `${named}_{stem}`;
  const items = planned(project, sound, { ...delivery, stems: 'layers', template }).filter(({ stem }) => stem !== undefined);
  if (items.length === 0) throw wrongInput(`“${sound.name}” has no layer that can be heard, so it has no stems.`);
  return items;
}

/** Renders on all cores, and writes the files in their order. Clips that several files play are treated once for all of them. */
async function renderAll(
  project: Project,
  items: readonly DeliveryItem[],
  delivery: Delivery,
  audio: ReadonlyMap<string, SharedAudio>,
  folder: string,
  output: Output,
  pool: WorkerPool,
): Promise<void> {
  try {
    const load = createSoundLoader(pool, sourceIdentities(project.sources), audio);
    const slim = { ...project, sounds: [] };
    const rendering = items.map(async (item) => {
      const loaded = await load([item.sound]);
      return pool.run('deliver', { item, delivery, project: slim, ...loaded, moment, give: 'file' }, item.file);
    });
    // All are waited for where they are written; until then a failure is not forgotten.
    for (const each of rendering) each.catch(() => undefined);
    for (const [index, item] of items.entries()) {
      const { file } = await rendering[index]!;
      if (!file) throw new Error(`${item.file} was not rendered.`);
      const target = join(folder, item.file);
      writeBytes(target, file.bytes);
      output.out(`${target}\n`);
    }
  } finally {
    pool.close();
  }
}
