// The unit tests of the core alone, as mutation testing runs them again and again.
import all from './jest.config.mjs';

const [unit] = all.projects;
const config = { ...unit, displayName: undefined, testMatch: ['<rootDir>/src/core/**/*.test.ts'], testTimeout: 20_000 };
export default config;
