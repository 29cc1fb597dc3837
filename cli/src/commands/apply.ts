import { basename, join, resolve } from 'node:path';
import type { Audio } from '@tangled-choir/core';
import { applyChain, createRandom, seedOf, writeWav } from '@tangled-choir/core';
import type { Command } from 'commander';
import { readChain } from '../chain-file';
import { wrongInput } from '../failure';
import { checkFolder, readAudio, readText, writeBytes } from '../files';
import type { Output } from '../output';
import { encodingOption } from './options';

export function applyCommand(program: Command, output: Output): void {
  program
    .command('apply')
    .description('Runs a chain of effects over WAV files; latency is compensated.')
    .argument('<files...>', 'WAV files')
    .requiredOption('--chain <file>', 'JSON file: [{"effect": id, "mix": 1, "parameters": {…}, "branches": [{"gain": 0, "chain": […]}]}]')
    .requiredOption('--out <folder>', 'where to write the results, under the same names')
    .option('--bits <bits>', '16, 24 or 32f', '24')
    .option('--tail', 'keep what rings on behind the end')
    .action(async (files: string[], options: { chain: string; out: string; bits: string; tail?: boolean }) => {
      checkFolder(options.out);
      const encoding = encodingOption(options.bits);
      const { chain, sources: sourceFiles } = readChain(readText(options.chain), options.chain);
      const sources = new Map<string, Audio>();
      for (const [id, file] of sourceFiles) sources.set(id, await readAudio(file));
      const targets = files.map((file) => join(options.out, basename(file)));
      if (new Set(targets).size < targets.length)
        throw wrongInput('Two of the files have the same name; their results would overwrite each other.');
      for (const [index, file] of files.entries()) {
        const target = targets[index]!;
        if (resolve(target) === resolve(file))
          throw wrongInput(`The result of ${file} would overwrite it; choose another folder with --out.`);
        const audio = await readAudio(file);
        const result = applyChain(audio, chain, { tail: options.tail ?? false, source: (id) => sources.get(id) });
        writeBytes(
          target,
          writeWav(result, { encoding, ...(encoding !== '32f' && { dither: createRandom(seedOf('apply', basename(file))) }) }),
        );
        output.out(`${target}\n`);
      }
    });
}
