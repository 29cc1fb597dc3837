import ngrx from '@ngrx/eslint-plugin/v9';
import angular from 'angular-eslint';
import tseslint from 'typescript-eslint';

const views = ['gather', 'loft', 'kin', 'conduct', 'hand-off', 'projects'];

/** All rooms of core but those that a room may look into: arrows point inwards only. */
const rooms = [
  ...[
    'tuning',
    'dsp',
    'audio',
    'picture',
    'project',
    'automation',
    'movers',
    'effects',
    'synthesis',
    'mimic',
    'treatments',
    'analysis',
    'stretch',
    'loop-doctor',
  ],
  ...['formats', 'import', 'render', 'judging', 'kin', 'conduct', 'print', 'hand-off', 'testing'],
];
const outside = (...inner) =>
  rooms.filter((room) => !inner.includes(room)).flatMap((room) => [`../${room}/**`, `../../${room}/**`, `../${room}`, `../../${room}`]);

/** Forbids imports that would cross a border of the architecture. */
const border = (files, patterns) => ({ files, rules: { 'no-restricted-imports': ['error', { patterns }] } });
const noInterface = { group: ['@angular/*', '@ngrx/*', 'dexie', 'd3', 'rxjs'], message: 'Core knows no interface.' };
const noNode = { group: ['node:*', 'fs', 'path', 'crypto'], message: 'Core runs in workers and worklets, which have no Node.' };

export default tseslint.config(
  {
    ignores: [
      '**/dist/**',
      '**/node_modules/**',
      '**/.angular/**',
      'web/src/generated/**',
      'core/src/dsp/compiled/kernels.generated.ts',
      'core/src/conduct/voice-kernel.generated.ts',
      'core/kernels/**',
      '**/coverage/**',
      '**/test-results/**',
      '**/*.mjs',
    ],
  },
  {
    files: ['**/*.ts'],
    extends: [...tseslint.configs.recommended, ...tseslint.configs.stylistic],
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/prefer-for-of': 'off',
      eqeqeq: 'error',
      'max-lines': ['error', { max: 450, skipBlankLines: true, skipComments: true }],
    },
  },
  {
    files: ['core/src/**/*.ts'],
    ignores: ['**/*.spec.ts'],
    rules: {
      'no-restricted-properties': [
        'error',
        { object: 'Math', property: 'random', message: 'Randomness comes from a seed.' },
        { object: 'Date', property: 'now', message: 'Core has no clock.' },
      ],
      'no-restricted-globals': ['error', 'window', 'document', 'performance', 'process', 'fetch'],
    },
  },
  border(['core/src/**/*.ts'], [noInterface]),
  ...[
    ['tuning', [...outside('units'), 'zod']],
    ['dsp', [...outside('units'), 'zod']],
    ['audio', [...outside('units', 'cancelled', 'dsp'), 'zod']],
    ['picture', outside('units', 'audio', 'dsp')],
    ['project', outside('units', 'tuning', 'audio', 'dsp')],
    ['automation', outside('units', 'dsp', 'project')],
    ['movers', outside('units', 'dsp', 'project', 'automation')],
    ['effects', outside('units', 'tuning', 'audio', 'dsp', 'analysis', 'stretch', 'project')],
    ['treatments', outside('units', 'tuning', 'audio', 'dsp', 'project', 'analysis', 'stretch')],
    ['stretch', [...outside('units', 'tuning', 'audio', 'dsp', 'analysis'), 'zod']],
    ['analysis', outside('units', 'cancelled', 'tuning', 'audio', 'dsp')],
    ['loop-doctor', outside('units', 'cancelled', 'audio', 'dsp', 'analysis')],
    ['synthesis', outside('units', 'audio', 'dsp', 'project', 'automation')],
    ['formats', outside('units', 'cancelled', 'tuning', 'audio', 'dsp', 'project', 'analysis')],
    ['import', outside('units', 'cancelled', 'audio', 'dsp', 'project', 'formats', 'loop-doctor')],
    ['render', outside('units', 'cancelled', 'audio', 'dsp', 'project', 'automation', 'movers', 'effects', 'synthesis', 'treatments')],
    ['judging', outside('units', 'cancelled', 'audio', 'dsp', 'project', 'analysis', 'render', 'treatments')],
    ['mimic', outside('units', 'cancelled', 'audio', 'dsp', 'project', 'analysis', 'synthesis')],
    ['kin', outside('units', 'tuning', 'audio', 'dsp', 'project', 'analysis', 'formats')],
    ['print', outside('units', 'audio', 'dsp', 'project', 'formats', 'render', 'kin')],
    ['conduct', [...outside('units', 'audio', 'dsp'), 'zod']],
    ['hand-off', outside('units', 'audio', 'dsp', 'project', 'analysis', 'loop-doctor', 'formats', 'render', 'kin', 'conduct')],
  ].map(([folder, groups]) => ({
    files: [`core/src/${folder}/**/*.ts`],
    ignores: ['**/*.spec.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        { patterns: [noInterface, noNode, { group: groups, message: `core/src/${folder} lies further inside (docs: CONTRIBUTING.md).` }] },
      ],
    },
  })),
  {
    files: ['web/src/**/*.ts'],
    extends: [...angular.configs.tsRecommended],
    processor: angular.processInlineTemplates,
    rules: {
      '@angular-eslint/directive-selector': ['error', { type: 'attribute', prefix: 'tc', style: 'camelCase' }],
      '@angular-eslint/component-selector': ['error', { type: 'element', prefix: 'tc', style: 'kebab-case' }],
    },
  },
  ...[
    ['ui', ['engine', 'storage', 'state', 'sounds', 'frame', ...views], 'The pieces of the interface know no state.'],
    ['storage', ['engine', 'state', 'sounds', 'ui', 'frame', ...views], 'Storage serves all others.'],
    ['engine', ['state', 'sounds', 'ui', 'frame', ...views], 'The engine knows neither stores nor views.'],
    ['state', ['sounds', 'frame', ...views], 'Stores know no views.'],
    ['sounds', ['frame', ...views], 'Views use this, not the other way round.'],
    ['frame', views, 'The frame finds its views by their routes.'],
    ...views.map((view) => [
      view,
      ['frame', ...views.filter((other) => other !== view)],
      'Views do not know each other; what they share lies in ui, sounds or state.',
    ]),
  ].map(([folder, others, message]) => ({
    files: [`web/src/app/${folder}/**/*.ts`],
    ignores: ['**/*.spec.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          paths: folder === 'storage' ? [] : [{ name: 'dexie', message: 'Only storage knows of Dexie.' }],
          patterns: [
            ...(folder === 'storage' ? [] : [{ group: ['**/storage/database'], message: 'Only storage knows of its tables.' }]),
            {
              group: ['../../../core/**', '@tangled-choir/core/*', '@tangled-choir/jobs/*'],
              message: 'Import core and jobs by their names.',
            },
            { group: others.flatMap((other) => [`../${other}/**`, `../../${other}/**`, `../../../${other}/**`]), message },
          ],
        },
      ],
    },
  })),
  {
    files: ['web/src/app/**/*.ts'],
    ignores: ['web/src/app/engine/**', '**/*.spec.ts'],
    rules: {
      'no-restricted-globals': [
        'error',
        { name: 'Worker', message: 'Only engine knows of workers.' },
        { name: 'AudioContext', message: 'Only engine knows of the audio context.' },
      ],
    },
  },
  { files: ['web/src/**/*.store.ts'], extends: [...ngrx.configs.signals] },
  {
    files: ['web/src/**/*.html'],
    extends: [...angular.configs.templateRecommended, ...angular.configs.templateAccessibility],
    // Rows, tiles and menus take their keys from the view as a whole, see frame/shortcuts.ts.
    rules: { '@angular-eslint/template/click-events-have-key-events': 'off', '@angular-eslint/template/interactive-supports-focus': 'off' },
  },
  border(
    ['jobs/src/**/*.ts', 'farm/src/**/*.ts', 'encoders/src/**/*.ts', 'server/src/**/*.ts', 'cli/src/**/*.ts', 'demo/src/**/*.ts'],
    [noInterface],
  ),
  {
    files: ['jobs/src/**/*.ts'],
    ignores: ['jobs/src/node/**', '**/*.spec.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        { patterns: [noInterface, { ...noNode, message: 'Jobs run in browsers too; what is for Node lies in node/.' }] },
      ],
    },
  },
);
