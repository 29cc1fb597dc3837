import { join } from 'node:path';
import type { DeliveryItem, HandOff, Project, Sound } from '@tangled-choir/core';
import {
  collidingNames,
  effectCatalogue,
  planDelivery,
  prepareHashing,
  readWav,
  safeFileName,
  sourceIdentities,
  stemsOf,
  unpackArchive,
} from '@tangled-choir/core';
import type { SharedAudio, WorkerPool } from '@tangled-choir/jobs';
import { makeTreatments, share, wantedTreatments } from '@tangled-choir/jobs';
import type { Command } from 'commander';
import { wrongInput } from '../failure';
import { readBytes, writeBytes } from '../files';
import type { Output } from '../output';
import { encodingOption, wholeNumber } from './options';

interface RenderArguments {
  readonly sound: string;
  readonly family?: string;
  readonly seed?: string;
  readonly out: string;
  readonly rate?: string;
  readonly bits?: string;
  readonly stems?: boolean;
}

/** Files are dated at the project's epoch, so that rendering twice gives the same bytes. */
const moment = { date: '2020-01-01', time: '00:00:00' };

export function renderCommand(program: Command, output: Output, createPool: () => WorkerPool): void {
  program
    .command('render')
    .description('Renders a sound of a .choir file, its family or its stems.')
    .argument('<file>', '.choir file')
    .requiredOption('--sound <name>', 'name of the sound')
    .option('--family <n>', 'render n siblings instead of the original')
    .option('--seed <n>', 'seed of the family')
    .option('--out <folder>', 'where to write', '.')
    .option('--rate <hz>', '44100, 48000 or 96000')
    .option('--bits <bits>', '16, 24 or 32f')
    .option('--stems', 'one file per layer')
    .action(async (file: string, options: RenderArguments) => {
      await prepareHashing();
      const { project, audio } = await unpackArchive(readBytes(file), effectCatalogue, file);
      const sound = project.sounds.find((candidate) => candidate.name === options.sound);
      if (!sound)
        throw wrongInput(
          `There is no sound “${options.sound}” in ${file}; it has ${project.sounds.map((each) => `“${each.name}”`).join(', ') || 'none'}.`,
        );
      const settings = settingsFrom(project.handOff, options);
      const items = planned(project, variantsOf(sound, options), settings);
      const recordings = new Map([...audio].map(([hash, wav]) => [hash, share(readWav(wav, hash).audio)]));
      await renderAll(project, items, settings, recordings, options.out, output, createPool());
    });
}

function settingsFrom(base: HandOff, options: RenderArguments): HandOff {
  const rate = options.rate === undefined ? base.sampleRate : wholeNumber('--rate', options.rate, 1, 1_000_000);
  if (rate !== 44_100 && rate !== 48_000 && rate !== 96_000) throw wrongInput(`--rate is 44100, 48000 or 96000, not “${rate}”.`);
  const family = options.family !== undefined;
  return {
    ...base,
    sampleRate: rate,
    encoding: options.bits === undefined ? base.encoding : encodingOption(options.bits),
    original: !family,
    kept: family,
  };
}

/** The sounds to render: the sound itself with the wanted family, or one per audible layer for stems. */
function variantsOf(sound: Sound, options: RenderArguments): Sound[] {
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
  if (!options.stems) return [wanted];
  const stems = stemsOf(wanted);
  if (stems.length === 0) throw wrongInput(`“${wanted.name}” has no layer that can be heard, so it has no stems.`);
  return stems;
}

function planned(project: Project, sounds: readonly Sound[], settings: HandOff): DeliveryItem[] {
  const items = sounds.flatMap((sound) => planDelivery(project, sound, settings, effectCatalogue));
  const [collision] = collidingNames(items);
  const fields = sounds.length > 1 ? '{sound} and {number}' : '{number}';
  if (collision) throw wrongInput(`Several files would be called ${collision}; put ${fields} into the project's naming template.`);
  return items;
}

/** Renders on all cores, and writes the files in their order. Clips that several files play are treated once for all of them. */
async function renderAll(
  project: Project,
  items: readonly DeliveryItem[],
  settings: HandOff,
  audio: ReadonlyMap<string, SharedAudio>,
  folder: string,
  output: Output,
  pool: WorkerPool,
): Promise<void> {
  try {
    const sounds = items.map(({ sound }) => sound);
    const treated = await makeTreatments(pool, wantedTreatments(sounds, sourceIdentities(project.sources), audio));
    const slim = { ...project, sounds: [] };
    const rendering = items.map((item) =>
      pool.run('deliver', { item, settings, project: slim, audio, treated, moment, write: true }, item.file),
    );
    // All are waited for where they are written; until then a failure is not forgotten.
    for (const each of rendering) each.catch(() => undefined);
    for (const [index, item] of items.entries()) {
      const { wav } = await rendering[index]!;
      if (!wav) throw new Error(`${item.file} was not rendered.`);
      const target = join(folder, safeFileName(item.file.replace(/\.wav$/, '')) + '.wav');
      writeBytes(target, wav);
      output.out(`${target}\n`);
    }
  } finally {
    pool.close();
  }
}
