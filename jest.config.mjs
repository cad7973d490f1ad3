export default {
  globalSetup: '<rootDir>/tests/support/build.mjs',
  setupFiles: ['<rootDir>/tests/support/seed.ts'],
  testMatch: ['<rootDir>/tests/**/*.test.ts'],
  transform: { '\\.[jt]s$': '<rootDir>/tests/support/transform.mjs' },
  transformIgnorePatterns: ['/node_modules/(?!fast-string-|jose/)'],
  moduleNameMapper: { '^(\\.{1,2}/.*)\\.js$': '$1' },
  collectCoverageFrom: ['src/core/**/*.ts', 'src/render/**/*.ts'],
  coverageDirectory: 'coverage',
};
