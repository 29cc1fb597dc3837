import { effects } from '@tangled-choir/core';
import type { Command } from 'commander';
import type { Output } from '../output';

export function effectsCommand(program: Command, output: Output): void {
  program
    .command('effects')
    .description('Lists every effect with its parameters.')
    .option('--json', 'as a JSON array')
    .action((options: { json?: boolean }) => {
      const list = effects.map(({ id, label, purpose, parameters }) => ({
        id,
        label,
        purpose,
        parameters: Object.entries(parameters).map(([name, parameter]) => ({ name, ...parameter })),
      }));
      if (options.json) output.out(`${JSON.stringify(list, null, 2)}\n`);
      else
        for (const effect of list)
          output.out(`${effect.id}  ${effect.purpose}\n${effect.parameters.map((parameter) => `  ${parameter.name}`).join('\n')}\n`);
    });
}
