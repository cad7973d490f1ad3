export default {
  globalSetup: '<rootDir>/tests/support/build.mjs',
  testMatch: ['<rootDir>/tests/**/*.test.ts'],
  // Sources are ES modules in TypeScript; tests run them as CommonJS, which Jest loads without experimental flags.
  transform: {
    '^.+\\.ts$': [
      '@swc/jest',
      { jsc: { parser: { syntax: 'typescript' }, target: 'es2023' }, module: { type: 'commonjs' } },
    ],
    '^.+\\.js$': ['@swc/jest', { jsc: { target: 'es2023' }, module: { type: 'commonjs' } }],
  },
  transformIgnorePatterns: ['/node_modules/(?!fast-string-)'],
  moduleNameMapper: { '^(\\.{1,2}/.*)\\.js$': '$1' },
  collectCoverageFrom: ['src/core/**/*.ts', 'src/render/**/*.ts'],
  coverageDirectory: 'coverage',
};
