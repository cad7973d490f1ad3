/** Run by `npm run mutants`, by hand: it takes minutes to hours. */
export default {
  testRunner: 'jest',
  jest: { configFile: 'tests/support/mutants.config.mjs', enableFindRelatedTests: false },
  testRunnerNodeArgs: ['--max-old-space-size=2048'],
  coverageAnalysis: 'perTest',
  // Constants that are made as a file is loaded would have to be tried with every test.
  ignoreStatic: true,
  incremental: true,
  incrementalFile: 'reports/mutants.json',
  reporters: ['clear-text', 'progress-append-only', 'json'],
  jsonReporter: { fileName: 'reports/mutants-report.json' },
  clearTextReporter: { allowColor: false, logTests: false, reportTests: false },
  // What is said to people is read by people.
  mutator: { excludedMutations: ['StringLiteral', 'Regex'] },
  ignorePatterns: ['dist', 'coverage', 'docs/screenshots', 'reports'],
  timeoutMS: 20_000,
  concurrency: 2,
  tempDirName: '.mutants',
};
