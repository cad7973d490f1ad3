// The arrows between the folders point inwards: cli → render → core. One block a folder, since a later block replaces
// the options that an earlier one gave the same rule.

const outward = (message, ...folders) => ({ regex: `/(${folders.join('|')})/`, message });
const RENDERS = outward(
  'The core computes and renders nothing.',
  'render',
  'cli',
  'stand-in',
  'live',
  'draw',
);
const INPUT_OUTPUT = {
  regex: '^(node:|fs|path|os|child_process|http|https|net|process|crypto|url|util|commander|picocolors)',
  message: 'The core reads and writes nothing: pass the data in.',
};
const UNREPEATABLE = [
  { object: 'Date', property: 'now', message: 'Time comes from the Clock that is passed in.' },
  { object: 'Math', property: 'random', message: 'The same input must give the same result.' },
];
const IMPURE_GLOBALS = [
  ...['process', 'console', 'fetch', 'setTimeout', 'setInterval', 'setImmediate', 'queueMicrotask'],
  ...['performance', 'crypto', 'globalThis', 'require', 'Buffer', 'Date'],
].map((name) => ({ name, message: 'The core has no clock, console, process or network.' }));

export const fences = [
  {
    files: ['src/core/**/*.ts'],
    rules: {
      'no-restricted-imports': ['error', { patterns: [RENDERS, INPUT_OUTPUT] }],
      'no-restricted-globals': ['error', ...IMPURE_GLOBALS],
      'no-restricted-properties': ['error', ...UNREPEATABLE],
    },
  },
  {
    files: ['src/stand-in/**/*.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            outward('The stand-in is started by a command, not the other way about.', 'cli', 'live'),
          ],
        },
      ],
    },
  },
  {
    files: ['src/stand-in/page-script/**/*.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            outward(
              'This runs in a browser: it knows the browser half and what a page tells it.',
              'cli',
              'render',
              'pages',
            ),
            INPUT_OUTPUT,
          ],
        },
      ],
    },
  },
  {
    files: ['src/render/**/*.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            outward(
              'Renderers return strings; the command writes them.',
              'cli',
              'stand-in',
              'live',
              'draw',
              'editor',
            ),
            { regex: '^node:(?!util$)', message: 'Renderers return strings; the command writes them.' },
          ],
        },
      ],
      'no-restricted-globals': ['error', ...IMPURE_GLOBALS],
    },
  },
];
