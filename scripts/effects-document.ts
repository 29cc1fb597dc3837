import type { NumberParameter, Parameter } from '../core/src/index';
import { axisOf, effectFamilies, effects, isAutomatable, situations } from '../core/src/index';

/** What values a parameter can have, in words. */
export function rangeOf(parameter: Parameter): string {
  switch (parameter.kind) {
    case 'number':
      return `${parameter.min} to ${parameter.max} ${parameter.unit === '%' ? '(1 = 100 %)' : parameter.unit}`.trim() + lessFar(parameter);
    case 'choice':
      return parameter.options.join(', ');
    case 'reference':
      return `a ${parameter.to === 'layer' ? 'layer or group' : 'source'}`;
    case 'curve':
      return `${parameter.points} numbers from ${parameter.min} to ${parameter.max} ${parameter.unit}`.trim();
    case 'switch':
      return 'on or off';
  }
}

/** Where a range goes less far, by the values of another parameter. */
function lessFar({ upTo }: NumberParameter): string {
  const ends = new Map<number, string[]>();
  for (const [value, most] of Object.entries(upTo?.most ?? {})) ends.set(most, [...(ends.get(most) ?? []), value]);
  return [...ends].map(([most, values]) => `, to ${most} for ${values.join(' and ')}`).join('');
}

/** The list of effects in Markdown, before it is formatted. */
export function effectsDocument(): string {
  const lines = [
    '# Effects',
    '',
    'Made from the registry by `npm run docs`. Every number can be swayed; numbers, choices and switches move along lanes and are pulled, unless their range says that they are fixed.',
    '',
  ];
  for (const effect of effectFamilies.flatMap((family) => effects.filter((each) => each.family === family))) {
    if (effect === effects.find(({ family }) => family === effect.family)) lines.push(`## ${effect.family}`, '');
    lines.push(
      `### ${effect.label} (\`${effect.id}\`)`,
      '',
      effect.purpose,
      '',
      ...(effect.host
        ? [
            `Holds ${effect.host.least} to ${effect.host.most} ${effect.host.branch}s, each with a chain, gain, pan and delay of its own.`,
            '',
          ]
        : []),
      ...(effect.presets.length > 0 ? [`Presets: ${effect.presets.map(({ name }) => name).join(', ')}.`, ''] : []),
    );
    if (Object.keys(effect.parameters).length > 0) lines.push('| parameter | name | range | default |', '|---|---|---|---|');
    for (const [name, parameter] of Object.entries(effect.parameters)) {
      const fixed = axisOf(parameter) && !isAutomatable({ address: '', parameter }) ? ', fixed' : '';
      const preset = parameter.kind === 'reference' ? parameter.none : String(parameter.default);
      lines.push(`| \`${name}\` | ${parameter.label} | ${rangeOf(parameter)}${fixed} | ${preset} |`);
    }
    lines.push('');
  }
  lines.push(
    '## Situations',
    '',
    'Ready chains for listening situations, under _Chains_ in the lectern.',
    '',
    '| situation | what it is like | chain |',
    '|---|---|---|',
  );
  for (const { name, purpose, chain } of situations) {
    const path = chain.map(({ effect }) => effects.find(({ id }) => id === effect)?.label ?? effect).join(' → ');
    lines.push(`| ${name} | ${purpose} | ${path} |`);
  }
  lines.push('');
  return lines.join('\n');
}
