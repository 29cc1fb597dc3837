import { basename, join, resolve } from 'node:path';
import type { Audio, EffectStep } from '@tangled-choir/core';
import {
  applyChain,
  createRandom,
  DataError,
  describeIssues,
  effectCatalogue,
  faultsOf,
  parseJson,
  seedOf,
  writeWav,
} from '@tangled-choir/core';
import type { Command } from 'commander';
import * as z from 'zod';
import { wrongInput } from '../failure';
import { readAudio, readBytes, writeBytes } from '../files';
import type { Output } from '../run';
import { encodingOption } from './options';

const chainSchema = z
  .array(
    z.strictObject({
      effect: z.string(),
      mix: z.number().min(0).max(1).default(1),
      parameters: z.record(z.string(), z.union([z.number(), z.string(), z.boolean()])).default({}),
    }),
  )
  .max(64);

/** Reads a chain file. Throws DataError that names the step and the parameter. */
export function readChain(text: string, what: string): EffectStep[] {
  const parsed = chainSchema.safeParse(parseJson(text, what));
  if (!parsed.success) throw new DataError(describeIssues(parsed.error, what));
  return parsed.data.map((step, index) => {
    const effect = effectCatalogue.get(step.effect);
    if (!effect) throw new DataError(`${what}: step ${index + 1}: there is no effect “${step.effect}”.`);
    const [fault] = faultsOf(effect.parameters, step.parameters);
    if (fault) throw new DataError(`${what}: step ${index + 1} (${step.effect}): ${fault}.`);
    return { id: `step-${index + 1}`, effect: step.effect, enabled: true, mix: step.mix, parameters: step.parameters };
  });
}

export function applyCommand(program: Command, output: Output): void {
  program
    .command('apply')
    .description('Runs a chain of effects over WAV files; latency is compensated.')
    .argument('<files...>', 'WAV files')
    .requiredOption('--chain <file>', 'JSON file: [{"effect": id, "mix": 1, "parameters": {…}}]')
    .requiredOption('--out <folder>', 'where to write the results, under the same names')
    .option('--bits <bits>', '16, 24 or 32f', '24')
    .option('--tail', 'keep what rings on behind the end')
    .action((files: string[], options: { chain: string; out: string; bits: string; tail?: boolean }) => {
      const encoding = encodingOption(options.bits);
      const chain = readChain(new TextDecoder().decode(readBytes(options.chain)), options.chain);
      const targets = files.map((file) => join(options.out, basename(file)));
      if (new Set(targets).size < targets.length)
        throw wrongInput('Two of the files have the same name; their results would overwrite each other.');
      files.forEach((file, index) => {
        const target = targets[index]!;
        if (resolve(target) === resolve(file))
          throw wrongInput(`The result of ${file} would overwrite it; choose another folder with --out.`);
        const audio: Audio = readAudio(file);
        const result = applyChain(audio, chain, { tail: options.tail ?? false });
        writeBytes(
          target,
          writeWav(result, { encoding, ...(encoding !== '32f' && { dither: createRandom(seedOf('apply', basename(file))) }) }),
        );
        output.out(`${target}\n`);
      });
    });
}
