const swc = [
  '@swc/jest',
  {
    jsc: { parser: { syntax: 'typescript', tsx: true }, transform: { react: { runtime: 'automatic' } }, target: 'es2022' },
    module: { type: 'commonjs' },
  },
];
const shared = {
  // Tests run in a context of their own, where every look at a global is slow: in loops over pixels and rays that is most of the time.
  sandboxInjectedGlobals: ['Math'],
  transform: { '\\.(ts|tsx|js|mjs)$': swc },
  transformIgnorePatterns: ['/node_modules/(?!(d3-[^/]+|internmap|fast-check|pure-rand|idb|uuid)/)'],
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/src/$1', '^@demo/(.*)$': '<rootDir>/demo/$1' },
};
const config = {
  projects: [
    { ...shared, displayName: 'unit', testEnvironment: 'node', testMatch: ['<rootDir>/src/**/*.test.ts', '<rootDir>/demo/**/*.test.ts'] },
    {
      ...shared,
      displayName: 'e2e',
      testEnvironment: 'node',
      testMatch: ['<rootDir>/tests/e2e/**/*.test.ts'],
      globalSetup: '<rootDir>/tests/e2e/firstStart.ts',
    },
  ],
  // Tests wait for conditions, each with its own limit; this one is for what hangs, also where other work has the machine.
  testTimeout: 180_000,
};
export default config;
