import type { Measurement } from '@tangled-choir/core';
import { measureRecording } from '@tangled-choir/core';
import type { Command } from 'commander';
import { withRecording } from '../files';
import type { Output } from '../output';

/** The measurement as JSON has it: levels of silence are null. */
export function measurementJson(file: string, measured: Measurement): Record<string, string | number | null> {
  const values: Record<string, string | number | null> = { file };
  for (const [name, value] of Object.entries(measured)) values[name] = Number.isFinite(value) ? value : null;
  return values;
}

export function measureCommand(program: Command, output: Output): void {
  program
    .command('measure')
    .description('Tells length, loudness (BS.1770), true peak, RMS and DC offset of WAV files.')
    .argument('<files...>', 'WAV files')
    .option('--json', 'as a JSON array')
    .action(async (files: string[], options: { json?: boolean }) => {
      const results: ReturnType<typeof measurementJson>[] = [];
      for (const file of files) results.push(measurementJson(file, await withRecording(file, measureRecording)));
      if (options.json) output.out(`${JSON.stringify(results, null, 2)}\n`);
      else
        for (const result of results)
          output.out(
            `${Object.entries(result)
              .map(([name, value]) => `${name} ${value === null ? '-inf' : String(value)}`)
              .join('  ')}\n`,
          );
    });
}
