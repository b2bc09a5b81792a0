// Mutation testing of the core, started by `npm run mutate` (scripts/mutate.mjs says how to ask for a part).
// A surviving mutant is a line whose breaking no test sees.
const config = {
  testRunner: 'jest',
  testRunnerNodeArgs: ['--experimental-vm-modules'],
  jest: { projectType: 'custom', configFile: 'jest.mutate.config.mjs', enableFindRelatedTests: true },
  mutate: ['src/core/**/*.ts', '!src/core/**/*.test.ts', '!src/core/errors.ts', '!src/core/radio/catalogue.ts', '!src/core/design/limits.ts'],
  mutator: { excludedMutations: ['StringLiteral', 'ObjectLiteral'] },
  reporters: ['clear-text', 'progress-append-only', 'json'],
  jsonReporter: { fileName: '.setup/mutation.json' },
  clearTextReporter: { logTests: false, reportTests: false, allowEmojis: false },
  coverageAnalysis: 'perTest',
  // Constants at the top of a file need every test again for each mutant; they are tables checked by values from standards.
  ignoreStatic: true,
  concurrency: 2,
  timeoutMS: 20_000,
  tempDirName: '.setup/stryker',
  ignorePatterns: ['.next', 'data', 'docs', '.setup', 'tests'],
};
export default config;
