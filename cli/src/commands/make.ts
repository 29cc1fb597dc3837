import type { NewNote, Patch, PatchTake } from '@tangled-choir/core';
import { effectCatalogue, makings, patchPresets, playPatch, readMidi, readNotesFile, readPatchFile, writeWav } from '@tangled-choir/core';
import type { Command } from 'commander';
import { wrongInput } from '../failure';
import { readBytes, readText, writeBytes } from '../files';
import type { Output } from '../output';
import { encodingOption, wholeNumber } from './options';

interface Options {
  readonly out?: string;
  readonly list?: boolean;
  readonly preset?: string;
  readonly notes?: string;
  readonly midi?: string;
  readonly seed?: string;
  readonly bits: string;
}

export function makeCommand(program: Command, output: Output): void {
  program
    .command('make')
    .description('Plays notes on a patch and writes what is heard as a WAV file.')
    .argument('[patch]', 'a patch as JSON')
    .option('--preset <name>', 'one of our own patches, in place of a file')
    .option('--list', 'lists our own patches')
    .option('--notes <file>', 'notes as JSON: a list of { start, length, pitch, strength }')
    .option('--midi <file>', 'notes as a standard MIDI file')
    .option('--seed <number>', 'another chance, 0 to 9999')
    .option('--out <file>', 'where to write the result')
    .option('--bits <bits>', '16, 24 or 32f', '24')
    .action((file: string | undefined, options: Options) => {
      if (options.list) {
        output.out(`${listing()}\n`);
        return;
      }
      const encoding = encodingOption(options.bits);
      if (options.out === undefined) throw wrongInput('Where to? Name a file with --out.');
      if ((file === undefined) === (options.preset === undefined))
        throw wrongInput('Name either a patch or, with --preset, one of our own.');
      if (options.notes !== undefined && options.midi !== undefined)
        throw wrongInput('--notes and --midi say the same thing; choose one of them.');
      const chosen =
        file === undefined ? presetNamed(options.preset!) : { patch: readPatchFile(readText(file), file, effectCatalogue).patch };
      const { notes, bpm, bends } = notesFrom(options, chosen);
      const seed = options.seed === undefined ? {} : { seed: wholeNumber('--seed', options.seed, 0, 9_999) };
      const length = Math.max(chosen.length ?? 0, ...notes.map((note) => note.start + note.length));
      const audio = playPatch({ patch: chosen.patch, notes, length, ...seed, ...(bpm !== undefined && { bpm }), ...(bends && { bends }) });
      writeBytes(options.out, writeWav(audio, { encoding }));
    });
}

interface Chosen {
  readonly patch: Patch;
  readonly notes?: readonly NewNote[];
  readonly length?: number;
}

function notesFrom({ notes, midi }: Options, chosen: Chosen): Pick<PatchTake, 'notes' | 'bpm' | 'bends'> {
  if (notes !== undefined) return { notes: readNotesFile(readText(notes), notes) };
  if (midi !== undefined) {
    const read = readMidi(readBytes(midi), midi);
    if (read.notes.length === 0) throw wrongInput(`${midi} has no notes.`);
    return read;
  }
  if (!chosen.notes) throw wrongInput('Which notes? Name them with --notes or --midi.');
  return { notes: chosen.notes };
}

function presetNamed(name: string): Chosen {
  const preset = patchPresets.find((each) => each.name.toLowerCase() === name.toLowerCase());
  if (!preset) throw wrongInput(`There is no patch “${name}”; --list names all of them.`);
  return preset;
}

function listing(): string {
  return makings
    .flatMap((making) => patchPresets.filter((preset) => preset.making === making))
    .map(({ making, name, purpose }) => `${making.padEnd(12)}${name.padEnd(20)}${purpose}`)
    .join('\n');
}
