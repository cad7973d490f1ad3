export default {
  globalSetup: '<rootDir>/tests/support/build.mjs',
  setupFiles: ['<rootDir>/tests/support/seed.ts'],
  // Walks in a real browser wait for it most of the time: on two cores everything else goes on beside them.
  maxWorkers: 2,
  // Far beyond what any test takes on a machine that is busy with others: it ends what hangs, and measures nothing.
  testTimeout: 60_000,
  testMatch: ['<rootDir>/tests/**/*.test.ts'],
  transform: { '\\.[jt]s$': '<rootDir>/tests/support/transform.mjs' },
  transformIgnorePatterns: ['/node_modules/(?!fast-string-|jose/|@hpcc-js/)'],
  moduleNameMapper: { '^(\\.{1,2}/.*)\\.js$': '$1' },
  collectCoverageFrom: ['src/core/**/*.ts', 'src/render/**/*.ts'],
  coverageDirectory: 'coverage',
};
