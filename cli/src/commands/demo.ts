import type { Command } from 'commander';
import { haldaStationArchive } from '@tangled-choir/demo';
import { writeBytes } from '../files';
import type { Output } from '../run';

export function demoCommand(program: Command, output: Output): void {
  program
    .command('demo')
    .description('Makes the Halda Station project.')
    .requiredOption('--out <file>', 'where to write the .choir file')
    .action((options: { out: string }) => {
      writeBytes(options.out, haldaStationArchive());
      output.out(`${options.out}\n`);
    });
}
