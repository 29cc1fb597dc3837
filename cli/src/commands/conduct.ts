import { availableParallelism } from 'node:os';
import type { Audio, Performance, Project, WantedTake } from '@tangled-choir/core';
import {
  conductData,
  conductLog,
  effectCatalogue,
  gameDelivery,
  parseJson,
  perform,
  prepareHashing,
  readScript,
  sourceIdentities,
  wantedTakes,
  writeWav,
} from '@tangled-choir/core';
import type { SharedAudio, WorkerPool } from '@tangled-choir/jobs';
import { createSoundLoader, makeTreatments, runDeliveries, wantedTreatments } from '@tangled-choir/jobs';
import type { Command } from 'commander';
import { folderTarget } from '../delivery-target';
import { wrongInput } from '../failure';
import { readSounds, readText, writeBytes } from '../files';
import type { Output } from '../output';
import { encodingOption, moment, wholeNumber } from './options';

interface Options {
  readonly script?: string;
  readonly seed?: string;
  readonly out?: string;
  readonly log?: string;
  readonly files?: string;
  readonly bits: string;
}

export function conductCommand(program: Command, output: Output, createPool: () => WorkerPool): void {
  program
    .command('conduct')
    .description('Plays the behaviours of a .choir file by a script of moves: what is heard, and what was decided.')
    .argument('<file>', '.choir file')
    .option('--script <script>', 'a script of the project by its name, or a JSON file: { seconds, moves: [{ at, move }] }')
    .option('--seed <n>', 'in place of the seed of the project')
    .option('--out <file>', 'where to write what is heard, as WAV')
    .option('--log <file>', 'where to write what was decided, as JSON')
    .option('--files <folder>', 'where to write what a game takes: conduct.json and every recording')
    .option('--bits <bits>', '16, 24 or 32f', '32f')
    .action(async (file: string, options: Options) => {
      const { script: wantedScript, out, log: logFile, files } = options;
      if (out === undefined && logFile === undefined && files === undefined)
        throw wrongInput('Name a file with --out or --log, or a folder with --files.');
      if (wantedScript === undefined && (out !== undefined || logFile !== undefined))
        throw wrongInput('What is played? Name a script with --script.');
      const encoding = encodingOption(options.bits);
      await prepareHashing();
      const { project: read, recordings } = await readSounds(file);
      const seed = options.seed === undefined ? read.conduct.seed : wholeNumber('--seed', options.seed, 0, 0xffffffff);
      const project: Project = { ...read, conduct: { ...read.conduct, seed } };
      const script = wantedScript === undefined ? undefined : scriptFrom(project, wantedScript);
      if (files !== undefined) {
        const count = await writeFiles(project, recordings, files, createPool());
        output.out(`${count} recordings and conduct.json in ${files}\n`);
      }
      if (!script) return;
      const wanted = wantedTakes(project, effectCatalogue);
      const takes = await renderTakes(project, wanted, recordings, createPool());
      const data = conductData(project, wanted, new Map([...takes].map(([asset, { channels }]) => [asset, channels[0]!.length])));
      const { log, audio: heard } = perform(data, takes, script);
      if (out !== undefined) writeBytes(out, writeWav(heard, { encoding }));
      const entries = conductLog(data, log);
      if (logFile !== undefined) writeBytes(logFile, new TextEncoder().encode(`${JSON.stringify(entries, null, 1)}\n`));
      output.out(`${entries.filter((entry) => entry.do === 'play').length} voices in ${script.seconds} s\n`);
    });
}

/** The project's own script of that name, or a file. */
function scriptFrom({ conduct }: Project, wanted: string): Performance {
  const own = conduct.scripts.find(({ name }) => name === wanted);
  return own ?? readScript(parseJson(readText(wanted), wanted), conduct, wanted);
}

/** Writes what a game takes, as the project's first delivery of behaviours asks; gives the number of recordings. */
async function writeFiles(project: Project, audio: ReadonlyMap<string, SharedAudio>, folder: string, pool: WorkerPool): Promise<number> {
  try {
    const { files } = await runDeliveries({
      project,
      deliveries: [gameDelivery(project)],
      moment,
      jobs: pool,
      atOnce: 2 * availableParallelism(),
      load: createSoundLoader(pool, sourceIdentities(project.sources), audio),
      write: folderTarget(folder).write,
    });
    return files.length;
  } finally {
    pool.close();
  }
}

/** What the behaviours play, rendered on all cores. */
async function renderTakes(
  project: Project,
  wanted: readonly WantedTake[],
  audio: ReadonlyMap<string, SharedAudio>,
  pool: WorkerPool,
): Promise<ReadonlyMap<string, Audio>> {
  try {
    const identities = sourceIdentities(project.sources);
    const treated = await makeTreatments(
      pool,
      wantedTreatments(
        wanted.map(({ sound }) => sound),
        identities,
        audio,
      ),
    );
    const rendered = await Promise.all(
      wanted.map(async ({ asset, sound, loops }) => {
        const { sampleRate, channels } = await pool.run(
          'take',
          { sound, loops, sampleRate: project.sampleRate, identities, audio, treated },
          asset,
        );
        return [asset, { sampleRate, channels: [...channels] }] as const;
      }),
    );
    return new Map(rendered);
  } finally {
    pool.close();
  }
}
