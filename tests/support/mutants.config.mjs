import config from '../../jest.config.mjs';

/** The tests of some rooms alone, without the built program. */
const rooms = (process.env.MUTANTS_TESTS ?? 'tests/core').split(',');
const own = { ...config };
// A change is tried by one worker, on the sources.
delete own.globalSetup;
delete own.maxWorkers;

export default {
  ...own,
  rootDir: '../..',
  // Tens of thousands of generated inputs for each change would take days.
  testPathIgnorePatterns: ['bad-input', 'sequences', 'yardstick', 'random-walks', 'rich-policies'],
  testMatch: rooms.map((room) => `<rootDir>/${room.endsWith('.ts') ? room : `${room}/**/*.test.ts`}`),
};
