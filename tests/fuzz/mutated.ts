import type { Random } from './random';

const LARGEST = 100_000;

/** What means something to a reader, a terminal or a system. */
const PIECES = [
  ...[
    '[]',
    '{}',
    '~',
    '""',
    '-1',
    '1e400',
    '.inf',
    '0x10',
    'true',
    '&a',
    '*a',
    '!!binary',
    '? ',
    ': ',
    '- ',
    '|',
    '>',
  ],
  ...[
    '__proto__',
    'constructor',
    'guest',
    'everyone',
    '::error::x',
    '##[error]x',
    '\u202e',
    '\u200b',
    '\ud800',
    '\ufeff',
  ],
  ...[
    '/**',
    '/:a/*',
    '/%zz',
    '/%2e%2e/',
    '//evil.example',
    '/büro',
    '/日本',
    'https://ü.example',
    '1h30m',
    '0s',
    '99999d',
  ],
  ...['^/.*a.{9}b', '(a|b)*c{0,99}', '(x+x+)+y', '[^/]', '\\d', '(?=a)', '\\1', 'a{99999}'],
];

/** One of some texts with something done to it, some times over; parts of the others may get into it. */
export function mutated(random: Random, texts: readonly string[], largest = LARGEST): string {
  let text = random.of(texts);
  for (let times = 1 + random.below(6); times > 0; times--) text = once(random, text, texts);
  return text.slice(0, largest);
}

function once(random: Random, text: string, texts: readonly string[]): string {
  const at = random.below(text.length + 1);
  const to = Math.min(text.length, at + random.below(40));
  const lines = text.split('\n');
  const line = random.below(lines.length);
  switch (random.below(10)) {
    case 0:
      return text.slice(0, at) + text.slice(to);
    case 1:
      return text.slice(0, at) + random.of(PIECES) + text.slice(random.chance(0.5) ? at : to);
    case 2:
      return (
        text.slice(0, at) +
        String.fromCharCode(random.below(random.chance(0.8) ? 128 : 65_536)) +
        text.slice(at)
      );
    case 3:
      return lines.toSpliced(line, 1 + random.below(3)).join('\n');
    case 4:
      return lines.toSpliced(line, 0, ...lines.slice(line, line + 1 + random.below(3))).join('\n');
    case 5:
      return lines.toSpliced(line, 0, random.of(random.of(texts).split('\n'))).join('\n');
    case 6:
      return (
        text.slice(0, at) +
        text.slice(at, to).repeat(1 + random.below(random.chance(0.1) ? 3_000 : 20)) +
        text.slice(to)
      );
    case 7: {
      const words = text.match(/[\w./:-]+/g) ?? ['x'];
      return text.replace(random.of(words), () => random.of(random.chance(0.5) ? words : PIECES));
    }
    case 8:
      return lines.with(line, ' '.repeat(random.below(9)) + (lines[line] ?? '').trimStart()).join('\n');
    default:
      return (
        text.slice(0, at) +
        random.of(['[', '{', '(', '"', "'", '- ']).repeat(random.below(60)) +
        text.slice(at)
      );
  }
}
