/** Writes the documents that follow from the code: the manifest's JSON Schema and the list of effects. */
import { writeFileSync } from 'node:fs';
import { effects, manifestJsonSchema } from '../core/src/index';

const docs = new URL('../docs/', import.meta.url);
writeFileSync(new URL('manifest.schema.json', docs), `${JSON.stringify(manifestJsonSchema(), null, 2)}\n`);

const lines = [
  '# Effects',
  '',
  'Made from the registry by `npm run docs`. Every number can be swayed, and automated unless its range says that it is fixed.',
  '',
];
for (const effect of effects) {
  lines.push(
    `## ${effect.label} (\`${effect.id}\`)`,
    '',
    effect.purpose,
    '',
    '| parameter | name | range | default |',
    '|---|---|---|---|',
  );
  for (const [name, parameter] of Object.entries(effect.parameters)) {
    const range =
      parameter.kind === 'number'
        ? `${parameter.min} to ${parameter.max}${parameter.unit === '%' ? ' (1 = 100 %)' : ` ${parameter.unit}`}${parameter.fixed ? ', fixed' : ''}`
        : parameter.kind === 'choice'
          ? parameter.options.join(', ')
          : 'on or off';
    lines.push(`| \`${name}\` | ${parameter.label} | ${range.trim()} | ${String(parameter.default)} |`);
  }
  lines.push('');
}
writeFileSync(new URL('effects.md', docs), lines.join('\n'));
