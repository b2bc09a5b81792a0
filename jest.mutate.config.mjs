// The unit tests of the core alone, as mutation testing runs them again and again.
import config from './jest.config.mjs';

const [unit] = config.projects;
export default { ...unit, displayName: undefined, testMatch: ['<rootDir>/src/core/**/*.test.ts'], testTimeout: 20_000 };
