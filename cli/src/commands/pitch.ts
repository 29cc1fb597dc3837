import { mainPitch, trackPitch } from '@tangled-choir/core';
import type { Command } from 'commander';
import { readAudio } from '../files';
import type { Output } from '../output';
import { within } from './options';

export function pitchCommand(program: Command, output: Output): void {
  program
    .command('pitch')
    .description('Tells the pitch of a WAV file over time, by its loudest channel.')
    .argument('<file>', 'a WAV file')
    .option('--hop <seconds>', 'how far the moments lie apart', '0.02')
    .option('--json', 'every moment as JSON: time, frequency in Hz (null where there is none), confidence from 0 to 1')
    .action(async (file: string, options: { hop: string; json?: boolean }) => {
      const track = trackPitch(await readAudio(file), { hop: within('--hop', options.hop, 0.001, 10) });
      if (options.json) {
        const moments = track.map(({ time, frequency, confidence }) => ({ time, frequency: frequency ?? null, confidence }));
        output.out(`${JSON.stringify(moments, null, 2)}\n`);
        return;
      }
      const { frequency, confidence } = mainPitch(track);
      output.out(frequency === undefined ? 'no pitch\n' : `${frequency.toFixed(2)} Hz  confidence ${confidence.toFixed(2)}\n`);
    });
}
