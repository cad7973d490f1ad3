import config from '../../jest.config.mjs';

/** The tests of some rooms alone, without the built program. */
const rooms = (process.env.MUTANTS_TESTS ?? 'tests/core').split(',');
export default {
  ...config,
  globalSetup: undefined,
  maxWorkers: undefined,
  rootDir: '../..',
  // Tens of thousands of generated inputs for each change would take days.
  testPathIgnorePatterns: ['bad-input', 'sequences', 'yardstick', 'random-walks', 'rich-policies'],
  testMatch: rooms.map((room) => `<rootDir>/${room}/**/*.test.ts`),
};
