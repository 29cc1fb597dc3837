import { prepareHashing } from '@tangled-choir/core';
import type { Command } from 'commander';
import { haldaStationArchive } from '@tangled-choir/demo';
import { readBytes, writeBytes } from '../files';
import type { Output } from '../output';

export function demoCommand(program: Command, output: Output): void {
  program
    .command('demo')
    .description('Makes the Halda Station project.')
    .requiredOption('--out <file>', 'where to write the .choir file')
    .option('--picture <file>', 'the demo picture', 'demo/picture/halda-station.webm')
    .action(async (options: { out: string; picture: string }) => {
      await prepareHashing();
      writeBytes(options.out, await haldaStationArchive(readBytes(options.picture)));
      output.out(`${options.out}\n`);
    });
}
