import ngrx from '@ngrx/eslint-plugin/v9';
import angular from 'angular-eslint';
import tseslint from 'typescript-eslint';

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
    [
      'dsp',
      [
        '**/effects/**',
        '**/treatments/**',
        '**/analysis/**',
        '**/render/**',
        '**/kin/**',
        '**/project/**',
        '**/formats/**',
        '**/hand-off/**',
      ],
    ],
    [
      'audio',
      [
        '**/effects/**',
        '**/treatments/**',
        '**/analysis/**',
        '**/render/**',
        '**/kin/**',
        '**/project/**',
        '**/formats/**',
        '**/hand-off/**',
      ],
    ],
    [
      'automation',
      [
        '**/effects/**',
        '**/treatments/**',
        '**/render/**',
        '**/kin/**',
        '**/print/**',
        '**/formats/**',
        '**/hand-off/**',
        '**/analysis/**',
      ],
    ],
    [
      'project',
      [
        '**/automation/**',
        '**/effects/**',
        '**/render/**',
        '**/kin/**',
        '**/print/**',
        '**/formats/**',
        '**/hand-off/**',
        '**/analysis/**',
      ],
    ],
    ['effects', ['**/render/**', '**/kin/**', '**/print/**', '**/hand-off/**', '**/analysis/**']],
    ['treatments', ['**/render/**', '**/kin/**', '**/print/**', '**/hand-off/**']],
    ['analysis', ['**/render/**', '**/kin/**', '**/print/**', '**/hand-off/**']],
    ['loop-doctor', ['**/render/**', '**/kin/**', '**/print/**', '**/hand-off/**']],
    ['render', ['**/kin/**', '**/print/**', '**/hand-off/**']],
    ['kin', ['**/print/**', '**/hand-off/**', '**/render/**']],
    ['print', ['**/hand-off/**']],
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
  {
    files: ['web/src/app/**/*.ts'],
    ignores: ['web/src/app/storage/**', '**/*.spec.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          paths: [{ name: 'dexie', message: 'Only storage knows of Dexie.' }],
          patterns: [
            { group: ['**/storage/database'], message: 'Only storage knows of its tables.' },
            { group: ['../../../core/**', '@tangled-choir/core/*'], message: 'Import core by its name.' },
          ],
        },
      ],
    },
  },
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
  border(['server/src/**/*.ts', 'cli/src/**/*.ts', 'demo/src/**/*.ts'], [noInterface]),
);
