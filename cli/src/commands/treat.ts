import { resolve } from 'node:path';
import type { NumberParameter, Strain, Treatment } from '@tangled-choir/core';
import {
  attackParameter,
  createRandom,
  formantParameter,
  frameCount,
  grainParameter,
  isStretched,
  longestStretched,
  makeTreated,
  methodChoices,
  pitchParameter,
  plainStretch,
  seedOf,
  speedParameter,
  stretchParameter,
  showTreated,
  strainOf,
  wearParameter,
  writeWav,
} from '@tangled-choir/core';
import type { Command } from 'commander';
import { wrongInput } from '../failure';
import { readAudio, writeBytes } from '../files';
import type { Output } from '../output';
import { encodingOption, within } from './options';

interface Options {
  readonly out: string;
  readonly bits: string;
  readonly speed?: string;
  readonly stretch?: string;
  readonly vast?: string;
  readonly fit?: string;
  readonly semitones?: string;
  readonly formant?: string;
  readonly keepFormants?: boolean;
  readonly method: string;
  readonly wear?: string;
  readonly grain?: string;
  readonly attack?: string;
  readonly reverse?: boolean;
  readonly strain?: boolean;
}

export function treatCommand(program: Command, output: Output): void {
  program
    .command('treat')
    .description('Does to a WAV file what a clip does to its source: speed, stretch, pitch, formants, reverse.')
    .argument('<in>', 'a WAV file')
    .requiredOption('--out <file>', 'where to write the result')
    .option('--speed <st>', 'speed with pitch following it, in semitones')
    .option('--stretch <factor>', 'length without pitch, 0.25 to 4')
    .option('--vast <factor>', 'length without pitch, up to 200')
    .option('--fit <seconds>', 'stretches to this length, in place of --stretch and --vast')
    .option('--semitones <st>', 'pitch without length')
    .option('--formant <st>', 'formants, by themselves')
    .option('--keep-formants', 'leaves formants where they are when the pitch moves')
    .option('--method <method>', methodChoices.join(', '), 'auto')
    .option('--wear <share>', 'wanted damage, 0 to 1')
    .option('--grain <seconds>', 'pieces of texture and vast')
    .option('--attack <share>', 'how much of its attacks is heard through a vast stretch')
    .option('--reverse', 'plays it backwards')
    .option('--bits <bits>', '16, 24 or 32f', '24')
    .option('--strain', 'prints what it did to the sound that nobody asked for, as JSON')
    .action(async (file: string, options: Options) => {
      const encoding = encodingOption(options.bits);
      if (resolve(options.out) === resolve(file)) throw wrongInput(`The result would overwrite ${file}; choose another name with --out.`);
      if ([options.stretch, options.vast, options.fit].filter((each) => each !== undefined).length > 1)
        throw wrongInput('--stretch, --vast and --fit say the same thing; choose one of them.');
      const audio = await readAudio(file);
      const seconds = frameCount(audio) / audio.sampleRate;
      if (seconds === 0) throw wrongInput(`${file} has no samples to treat.`);
      const treatment = treatmentFrom(options, seconds);
      const lasts = (seconds * treatment.stretch) / 2 ** (treatment.speed / 12);
      if (lasts > longestStretched)
        throw wrongInput(`The result would last ${Math.round(lasts)} s; at most ${longestStretched} s are possible.`);
      const made = makeTreated(audio, treatment);
      const result = showTreated(made, treatment);
      writeBytes(options.out, writeWav(result, { encoding, ...(encoding !== '32f' && { dither: createRandom(seedOf('treat', file)) }) }));
      if (!options.strain) output.out(`${options.out}\n`);
      else output.out(`${JSON.stringify(strainJson(isStretched(treatment) ? strainOf(audio, treatment, made) : noStrain), null, 2)}\n`);
    });
}

/** Speed and reversal strain nothing. */
const noStrain: Strain = {
  smear: 0,
  flutter: 0,
  lost: -Infinity,
  invented: -Infinity,
  image: 0,
  amount: 0,
  reason: undefined,
  moments: [],
};

/** As JSON has it: levels of silence are null, and moments at which nothing is heard are left out. */
function strainJson({ lost, invented, reason, moments, ...rest }: Strain): object {
  const level = (value: number): number | null => (Number.isFinite(value) ? value : null);
  return {
    ...rest,
    lost: level(lost),
    invented: level(invented),
    reason: reason ?? null,
    moments: moments.filter(({ amount }) => amount > 0),
  };
}

function treatmentFrom(options: Options, seconds: number): Treatment {
  const number = (
    name: string,
    value: string | undefined,
    { min, max }: Pick<NumberParameter, 'min' | 'max'>,
    otherwise: number,
  ): number => (value === undefined ? otherwise : within(name, value, min, max));
  const method = methodChoices.find((known) => known === options.method);
  if (!method) throw wrongInput(`--method is ${methodChoices.join(', ')}, not “${options.method}”.`);
  const speed = number('--speed', options.speed, speedParameter, 0);
  const fit = options.fit === undefined ? undefined : within('--fit', options.fit, 0.001, longestStretched);
  const fitted = fit === undefined ? undefined : (fit * 2 ** (speed / 12)) / seconds;
  if (fitted !== undefined && !(fitted >= stretchParameter.min && fitted <= stretchParameter.max))
    throw wrongInput(
      `--fit ${fit} s is a stretch of ${fitted.toPrecision(3)}; from ${stretchParameter.min} to ${stretchParameter.max} is possible.`,
    );
  const stretch =
    fitted ??
    (options.vast === undefined
      ? number('--stretch', options.stretch, { min: stretchParameter.min, max: 4 }, 1)
      : within('--vast', options.vast, stretchParameter.min, stretchParameter.max));
  return {
    ...plainStretch,
    offset: 0,
    length: seconds,
    speed,
    stretch,
    method: options.vast === undefined ? method : 'vast',
    pitch: number('--semitones', options.semitones, pitchParameter, 0),
    formant: number('--formant', options.formant, formantParameter, 0),
    keepFormants: options.keepFormants ?? false,
    wear: number('--wear', options.wear, wearParameter, 0),
    grain: number('--grain', options.grain, grainParameter, plainStretch.grain),
    attack: number('--attack', options.attack, attackParameter, plainStretch.attack),
    reversed: options.reverse ?? false,
  };
}
