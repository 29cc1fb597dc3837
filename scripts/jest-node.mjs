import { fileURLToPath } from 'node:url';

/** Jest settings shared by the workspaces that run in Node without a page. */
export const nodeJest = (name) => ({
  displayName: name,
  testEnvironment: 'node',
  // Generous: busy machines run these too, and nothing is measured by the clock.
  testTimeout: 240_000,
  roots: ['<rootDir>/src'],
  testMatch: ['**/*.spec.ts'],
  transform: {
    '^.+\\.(t|j|mj)s$': ['@swc/jest', { jsc: { target: 'es2022', parser: { syntax: 'typescript' } }, module: { type: 'commonjs' } }],
    '\\.wasm$': fileURLToPath(new URL('jest-wasm.cjs', import.meta.url)),
  },
  moduleFileExtensions: ['ts', 'mjs', 'js', 'cjs', 'json', 'wasm'],
  // Looked up through the sandbox, these cost more than the arithmetic around them.
  sandboxInjectedGlobals: ['Math', 'Number', 'Float32Array', 'Float64Array'],
  // Only packages that ship nothing but ES modules need a pass.
  transformIgnorePatterns: ['/node_modules/(?!(@noble|fflate|immer|fast-check|pure-rand|stb-vorbis|zod)/|.*\\.wasm$)'],
  moduleNameMapper: {
    '^@tangled-choir/core$': '<rootDir>/../core/src/index.ts',
    '^@tangled-choir/jobs$': '<rootDir>/../jobs/src/index.ts',
    '^@tangled-choir/jobs/node$': '<rootDir>/../jobs/src/node/index.ts',
    '^@tangled-choir/encoders$': '<rootDir>/../encoders/src/index.ts',
    '^@tangled-choir/farm$': '<rootDir>/../farm/src/index.ts',
    '^@tangled-choir/demo$': '<rootDir>/../demo/src/index.ts',
  },
});
