import { coreBundle } from './src/testing/core-bundle.mjs';
import presets from 'jest-preset-angular/presets/index.js';

const preset = presets.createCjsPreset({
  tsconfig: '<rootDir>/tsconfig.spec.json',
  processWithEsbuild: ['**/node_modules/**/*.js', '**/node_modules/**/*.mjs'],
});

export default {
  ...preset,
  displayName: 'web',
  // Generous: on a busy machine the first test of a file waits long for its compiled modules.
  testTimeout: 240_000,
  rootDir: '.',
  globalSetup: '<rootDir>/src/testing/core-bundle.mjs',
  roots: ['<rootDir>/src'],
  testEnvironment: '<rootDir>/src/testing/environment.cjs',
  setupFilesAfterEnv: ['<rootDir>/src/testing/setup.ts'],
  moduleNameMapper: {
    '^@tangled-choir/core$': coreBundle,
    '^@tangled-choir/player$': '<rootDir>/../packages/player/src/index.ts',
    '^@tangled-choir/jobs$': '<rootDir>/../jobs/src/index.ts',
    'picture-reader$': '<rootDir>/src/testing/picture-reader.stub.ts',
    'workers\\.spawn$': '<rootDir>/src/testing/workers.stub.ts',
    '(player|recorder|conductor|levels)\\.processor\\.js$': '<rootDir>/src/testing/worklet.stub.ts',
  },
  transformIgnorePatterns: [
    'node_modules/(?!.*\\.mjs$|@noble/|d3|internmap|delaunator|robust-predicates|@mdi/|fflate|immer|zod|dexie|fast-check|pure-rand)',
  ],
};
