import { existsSync, readFileSync, statSync } from 'node:fs';
import { setMaxListeners } from 'node:events';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import type { Delivery, Manifest, ManifestFile, Project } from '@tangled-choir/core';
import { hashBytes, manifestFormat, manifestSchema, parseJson, prepareHashing, sourceIdentities } from '@tangled-choir/core';
import type { FarmJobs } from '@tangled-choir/farm';
import type { DeliveryOutcome, SharedAudio, WorkerPool } from '@tangled-choir/jobs';
import { createSoundLoader, JobCancelled, runDeliveries } from '@tangled-choir/jobs';
import type { Command } from 'commander';
import { folderTarget, zipTarget } from '../delivery-target';
import { CommandFailure, wrongInput } from '../failure';
import { readProject, readSounds, readText } from '../files';
import type { Output } from '../output';
import { moment, redisOption, wholeNumber } from './options';

interface Options {
  readonly out?: string;
  readonly deliveries?: readonly string[];
  readonly workers?: string;
  readonly changed?: boolean;
  readonly check?: boolean;
  readonly json?: boolean;
  readonly redis?: string | true;
}

/** More wait for each other, whatever the machine. */
const mostWorkers = 64;
/** Files that wait in the queue of a farm at a time. */
const waitingForFarm = 64;
/** Workers fetch recordings by themselves. */
const nothingToLoad = (): Promise<{ audio: ReadonlyMap<string, SharedAudio> }> =>
  Promise.resolve({ audio: new Map<string, SharedAudio>() });

export function deliverCommand(program: Command, output: Output, createPool: (workers?: number) => WorkerPool): void {
  program
    .command('deliver')
    .description('Renders, checks and writes the deliveries of a .choir file, with a manifest and a report.')
    .argument('<file>', '.choir file')
    .option('--out <folder>', 'where to write: a folder, or a file that ends in .zip')
    .option('--deliveries <names...>', 'which, one by one or parted by commas; otherwise all that are on')
    .option('--workers <n>', 'how many files at the same time; otherwise as many as there are cores')
    .option('--changed', 'leave files as they are that would come out the same')
    .option('--check', 'only say what is wrong, and write nothing')
    .option('--redis [url]', 'let the workers of a farm render; otherwise this machine. Without an address, REDIS_URL')
    .option('--json', 'tell progress and outcome as lines of JSON')
    .action(async (file: string, options: Options) => {
      const { out, check = false, changed = false, json = false } = options;
      if (out === undefined && !check) throw wrongInput('Where to? Name a folder with --out, or only check with --check.');
      const zipped = out !== undefined && /\.zip$/i.test(out);
      if (zipped && changed) throw wrongInput('--changed is for folders: a zip is always written whole.');
      if (out !== undefined && !zipped && existsSync(out) && !statSync(out).isDirectory())
        throw wrongInput(`${out} is a file; --out is a folder or a .zip file.`);
      const workers = options.workers === undefined ? undefined : wholeNumber('--workers', options.workers, 1, mostWorkers);
      const url = options.redis === undefined ? undefined : redisOption(options.redis === true ? undefined : options.redis);
      if (options.redis !== undefined && url === undefined) throw wrongInput('Which queue? Name a Redis with --redis or REDIS_URL.');
      await prepareHashing();
      // A farm is sent the files themselves, and none of them is read here.
      const read = url === undefined ? await readSounds(file) : await readProject(file);
      const { project } = read;
      const deliveries = chosenDeliveries(project, options.deliveries, file);
      const target = check || out === undefined ? undefined : zipped ? zipTarget(out) : folderTarget(out);
      const pool = createPool(workers);
      const farm = url !== undefined && 'audio' in read ? await connectFarm(url, pool, read.audio) : undefined;
      const stop = new AbortController();
      const onStop = (): void => stop.abort();
      // Each file that is made listens.
      setMaxListeners(0, stop.signal);
      process.once('SIGINT', onStop);
      try {
        const outcome = await runDeliveries({
          project,
          deliveries,
          moment,
          signal: stop.signal,
          jobs: farm ?? pool,
          // A farm may have many workers, each of which is to find something to do.
          atOnce: farm ? waitingForFarm : 2 * (workers ?? availableParallelism()),
          load: 'recordings' in read ? createSoundLoader(pool, sourceIdentities(project.sources), read.recordings) : nothingToLoad,
          ...(target && { write: target.write }),
          ...(changed && out !== undefined && { before: manifestIn(out), isThere: (entry) => Promise.resolve(isAsDelivered(out, entry)) }),
          ...(json && { onProgress: (done, of) => output.out(`${JSON.stringify({ done, of })}\n`) }),
        });
        await target?.finish();
        tell(outcome, target && out, output, json);
      } catch (error) {
        target?.drop();
        if (error instanceof JobCancelled) throw new CommandFailure(stopped(zipped), 1);
        throw error;
      } finally {
        process.off('SIGINT', onStop);
        await farm?.close();
        pool.close();
      }
    });
}

const stopped = (zipped: boolean): string =>
  zipped ? 'Stopped; no zip was written.' : 'Stopped. Files that are whole stay; with --changed the next run goes on from them.';

/** The farm is only read where it is wanted. */
async function connectFarm(...args: Parameters<typeof FarmJobs.connect>): Promise<FarmJobs> {
  return (await import('@tangled-choir/farm')).FarmJobs.connect(...args);
}

function chosenDeliveries({ deliveries }: Project, names: readonly string[] | undefined, file: string): readonly Delivery[] {
  const known = deliveries.map(({ name }) => `“${name}”`).join(', ') || 'none';
  if (names === undefined) {
    const on = deliveries.filter((delivery) => delivery.on);
    if (on.length === 0) throw wrongInput(`No delivery of ${file} is on; it has ${known}. Name some with --deliveries.`);
    return on;
  }
  const named = (name: string): Delivery | undefined => deliveries.find((delivery) => delivery.name === name);
  // A name may have commas of its own.
  const wanted = names.flatMap((name) => (named(name) ? [name] : name.split(',').map((part) => part.trim())));
  return wanted.map((name) => {
    const found = named(name);
    if (!found) throw wrongInput(`There is no delivery “${name}” in ${file}; it has ${known}.`);
    return found;
  });
}

/** What was delivered into a folder before; nothing where that cannot be read, because then everything is made again. */
function manifestIn(folder: string): Manifest | undefined {
  const file = join(folder, 'manifest.json');
  if (!existsSync(file)) return undefined;
  const read = parseJson(readText(file), file);
  if (typeof read !== 'object' || read === null || !('format' in read) || read.format !== manifestFormat)
    throw wrongInput(`${file} is not a manifest of deliveries; choose another folder, or leave out --changed.`);
  return manifestSchema.safeParse(read).data;
}

function isAsDelivered(folder: string, { file, sha256 }: ManifestFile): boolean {
  const path = join(folder, file);
  return existsSync(path) && hashBytes(new Uint8Array(readFileSync(path))) === sha256;
}

/** What became of it, for people or as the last line of JSON. */
function tell({ checked, written, unchanged }: DeliveryOutcome, out: string | undefined, output: Output, json: boolean): void {
  const findings = checked.flatMap(({ item, findings: found }) => found.map(({ severity, text }) => ({ file: item.file, severity, text })));
  const faults = findings.filter(({ severity }) => severity === 'fault').length;
  if (json) {
    output.out(`${JSON.stringify({ checked: checked.length, written, unchanged, faults, findings })}\n`);
    return;
  }
  for (const { file, severity, text } of findings) output.out(`${severity === 'fault' ? 'fault ' : 'advice'}  ${file}: ${text}\n`);
  const count = (number: number, one: string, many: string): string => (number === 1 ? `1 ${one}` : `${number} ${many}`);
  const found = faults === 0 ? 'no faults' : count(faults, 'fault', 'faults');
  if (out === undefined) output.out(`${count(checked.length, 'file', 'files')} checked, ${found}\n`);
  else {
    const kept = unchanged > 0 ? `, ${unchanged} already as they should be` : '';
    output.out(`${count(written, 'file', 'files')} written to ${out}${kept}, ${found}\n`);
  }
}
