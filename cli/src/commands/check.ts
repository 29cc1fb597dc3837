import { collectBytes, effectCatalogue, inspectArchive, prepareHashing } from '@tangled-choir/core';
import type { Command } from 'commander';
import { wrongInput } from '../failure';
import { withFile } from '../files';
import type { Output } from '../output';

export function checkCommand(program: Command, output: Output): void {
  program
    .command('check')
    .description('Checks a .choir file: its document, its audio and their hashes.')
    .argument('<file>', '.choir file')
    .action(async (file: string) => {
      await prepareHashing();
      const { project, faults, notes } = await withFile(file, (source) => inspectArchive(source, effectCatalogue, file, collectBytes));
      for (const note of notes) output.out(`note: ${note}\n`);
      if (faults.length > 0) throw wrongInput(faults.join(' '));
      output.out(
        `${file} is sound: “${project?.name ?? ''}”, ${project?.sounds.length ?? 0} sounds, ${project?.sources.length ?? 0} sources.\n`,
      );
    });
}
