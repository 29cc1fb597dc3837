import { DataError } from '@tangled-choir/core';
import type { WorkerPool } from '@tangled-choir/jobs';
import { Command, CommanderError } from 'commander';
import { applyCommand } from './commands/apply';
import { checkCommand } from './commands/check';
import { conductCommand } from './commands/conduct';
import { deliverCommand } from './commands/deliver';
import { demoCommand } from './commands/demo';
import { effectsCommand } from './commands/effects';
import { makeCommand } from './commands/make';
import { mimicCommand } from './commands/mimic';
import { measureCommand } from './commands/measure';
import { pitchCommand } from './commands/pitch';
import { renderCommand } from './commands/render';
import { treatCommand } from './commands/treat';
import { workerCommand } from './commands/worker';
import { CommandFailure } from './failure';
import type { Output } from './output';

const standard: Output = {
  out: (text) => process.stdout.write(text),
  error: (line) => process.stderr.write(`${line}\n`),
};

/**
 * Runs the command line and returns its exit code: 0 for success, 1 for failure, 2 for wrong input.
 * @param createPool makes the workers of commands that take long, as many as there are cores unless told otherwise
 */
export async function run(
  args: readonly string[],
  createPool: (workers?: number) => WorkerPool,
  terminal: Output = standard,
): Promise<number> {
  const output: Output = { out: (text) => terminal.out(visible(text)), error: (line) => terminal.error(visible(line)) };
  const program = new Command('choir').description('Measures, processes and renders without a browser.').exitOverride();
  program.configureOutput({ writeOut: (text) => output.out(text), writeErr: () => undefined });
  for (const add of [
    measureCommand,
    effectsCommand,
    applyCommand,
    treatCommand,
    makeCommand,
    mimicCommand,
    pitchCommand,
    demoCommand,
    checkCommand,
    renderCommand,
    conductCommand,
    deliverCommand,
    workerCommand,
  ])
    add(program, output, createPool);
  for (const command of program.commands)
    command.exitOverride().configureOutput({ writeOut: (text) => output.out(text), writeErr: () => undefined });
  try {
    await program.parseAsync(args, { from: 'user' });
    return 0;
  } catch (error) {
    if (error instanceof CommanderError) {
      if (error.exitCode === 0) return 0;
      output.error(
        oneLine(
          error.code === 'commander.help'
            ? 'choir: say what to do: measure, effects, apply, treat, make, mimic, pitch, demo, check, render, conduct, deliver or worker.'
            : error.message.replace(/^error: /, 'choir: '),
        ),
      );
      return 2;
    }
    if (error instanceof CommandFailure) {
      output.error(oneLine(error.message));
      return error.exitCode;
    }
    if (error instanceof DataError) {
      output.error(oneLine(error.message));
      return 2;
    }
    output.error(oneLine(error instanceof Error ? error.message : String(error)));
    return 1;
  }
}

/** Longer errors are cut: what they quote may be a whole file. */
const longestError = 2_000;

function oneLine(text: string): string {
  const line = text.replace(/\s*\n\s*/g, ' ').trim();
  return line.length > longestError ? `${line.slice(0, longestError)} …` : line;
}

/** Text without what would steer a terminal in place of being read, such as colours or a new title in the name of a file. */
function visible(text: string): string {
  return text.replace(/[\p{Cc}\u202a-\u202e\u2066-\u2069]/gu, (character) => (/[\n\t]/.test(character) ? character : '\ufffd'));
}
