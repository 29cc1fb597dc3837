import { basename } from 'node:path';
import { mimic, writePatchFile } from '@tangled-choir/core';
import type { Command } from 'commander';
import { wrongInput } from '../failure';
import { readAudio, writeBytes } from '../files';
import type { Output } from '../output';

/** Sounds whose refusal is the file's fault, not ours. */
async function mimicked(file: string): Promise<ReturnType<typeof mimic>> {
  const audio = await readAudio(file);
  try {
    return mimic(audio);
  } catch (error) {
    if (error instanceof RangeError) throw wrongInput(`${file}: ${error.message}`);
    throw error;
  }
}

export function mimicCommand(program: Command, output: Output): void {
  program
    .command('mimic')
    .description('Proposes a patch that comes near to a WAV file, and tells how far it is from it.')
    .argument('<file>', 'a WAV file; its first four seconds count')
    .requiredOption('--out <file>', 'where to write the patch, as JSON for “choir make”')
    .option('--notes <file>', 'where to write the note to play on it, as JSON')
    .action(async (file: string, options: { readonly out: string; readonly notes?: string }) => {
      const { patch, notes, distance, ofNoise, how } = await mimicked(file);
      const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
      writeBytes(options.out, bytes(writePatchFile(basename(file).replace(/\.\w+$/, ''), patch)));
      if (options.notes !== undefined) writeBytes(options.notes, bytes(`${JSON.stringify(notes, undefined, 2)}\n`));
      output.out(`${how}: off by ${distance.toFixed(1)} dB on average; plain noise by ${ofNoise.toFixed(1)} dB\n`);
    });
}
