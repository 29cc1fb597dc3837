import type { ParameterSet } from '../core/src/index';
import { axisOf, isAutomatable, makings, partKinds, patchParameters, patchPresets } from '../core/src/index';
import { rangeOf } from './effects-document';

function table(parameters: ParameterSet): string[] {
  const rows = Object.entries(parameters).map(([name, parameter]) => {
    const fixed = axisOf(parameter) && !isAutomatable({ address: '', parameter }) ? ', fixed' : '';
    return `| \`${name}\` | ${parameter.label} | ${rangeOf(parameter)}${fixed} | ${String(parameter.default)} |`;
  });
  return ['| parameter | name | range | default |', '|---|---|---|---|', ...rows, ''];
}

/** The parts that patches are built of, and our own patches, in Markdown, before it is formatted. */
export function patchesDocument(): string {
  const [first] = partKinds;
  const common = Object.entries(first?.parameters ?? {}).filter(([key]) => partKinds.every((kind) => key in kind.parameters));
  const shared = new Set(common.map(([key]) => key));
  return [
    '# Patches',
    '',
    'Made from the registry by `npm run docs`. Every number can be swayed; those that are not fixed move along lanes and are pulled. A part can also be moved by the curves of its patch.',
    '',
    '## What all parts share',
    '',
    ...table(patchParameters),
    '## What every part has',
    '',
    ...table(Object.fromEntries(common)),
    ...partKinds.flatMap((kind) => [
      `## ${kind.label} (\`${kind.id}\`)`,
      '',
      kind.purpose,
      ...(kind.modulated ? ['', 'Other parts can move its phase.'] : []),
      '',
      ...table(Object.fromEntries(Object.entries(kind.parameters).filter(([key]) => !shared.has(key)))),
    ]),
    '## Our own patches',
    '',
    '| kind | patch | what it is for | parts |',
    '|---|---|---|---|',
    ...makings.flatMap((making) =>
      patchPresets
        .filter((preset) => preset.making === making)
        .map(({ name, purpose, patch }) => `| ${making} | ${name} | ${purpose} | ${patch.parts.map((part) => part.name).join(', ')} |`),
    ),
    '',
  ].join('\n');
}
