export default {
  globalSetup: '<rootDir>/tests/support/build.mjs',
  setupFiles: ['<rootDir>/tests/support/seed.ts'],
  // Walks in a real browser wait for it most of the time: on two cores everything else goes on beside them.
  maxWorkers: 2,
  testMatch: ['<rootDir>/tests/**/*.test.ts'],
  transform: { '\\.[jt]s$': '<rootDir>/tests/support/transform.mjs' },
  transformIgnorePatterns: ['/node_modules/(?!fast-string-|jose/)'],
  moduleNameMapper: { '^(\\.{1,2}/.*)\\.js$': '$1' },
  collectCoverageFrom: ['src/core/**/*.ts', 'src/render/**/*.ts'],
  coverageDirectory: 'coverage',
};
