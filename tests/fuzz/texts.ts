import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  ALL_CHECKS,
  hasErrors,
  loadProject,
  runChecks,
  sourceOf,
  stageOf,
  type Diagnostic,
} from '../../src/core/internal';
import { playWalk } from '../../src/core/walks/runner';
import { diagnosticsText } from '../../src/render/diagnostics-text';
import { findingsJson } from '../../src/render/findings-json';
import { junit } from '../../src/render/junit';
import { sarif } from '../../src/render/sarif';
import { walksText } from '../../src/render/walks-text';
import { TEXTS } from '../corpus/texts';
import type { Random } from './random';

/** Any text is answered in so much processor time. */
const MOST_SECONDS = 5;
const LARGEST = 100_000;
const LOOK = { color: false, width: 100 };

const CODES = new Set(ALL_CHECKS.map(({ meta }) => meta.code));

/** Policies and walks to begin with: the examples, and the smaller texts of the corpus. */
export function beginnings(examples: string): string[] {
  const files = readdirSync(examples, { recursive: true, encoding: 'utf8' }).filter((name) =>
    name.endsWith('.yaml'),
  );
  const read = files.map((name) => readFileSync(join(examples, name), 'utf8'));
  const made = Object.values(TEXTS).map((make) => make());
  return [...read, ...made.filter((text) => text.length < 5_000)];
}

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

/** A text with something done to it. */
export function mutated(random: Random, texts: readonly string[]): string {
  let text = random.of(texts);
  for (let times = 1 + random.below(6); times > 0; times--) text = once(random, text, texts);
  return text.slice(0, LARGEST);
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

/** What is wrong with how a text is answered; null where nothing is. */
export async function faultOf(text: string): Promise<string | null> {
  const before = process.cpuUsage();
  const source = sourceOf('cavrin.yaml', text);
  const project = await loadProject(source, []);
  const outputs: string[] = [];
  let diagnostics: readonly Diagnostic[] = project.diagnostics;
  if (project.policy !== null && project.input !== null && !hasErrors(diagnostics)) {
    diagnostics = [...diagnostics, ...runChecks(project.policy, project.input, project.walks)];
    const stage = stageOf(project.policy);
    const results = project.walks.slice(0, 20).map((walk) => playWalk(stage, walk));
    if (results.length > 0) {
      outputs.push(
        walksText(results, project.policy.app, project.input, {
          ...LOOK,
          quiet: false,
          verbose: stage,
          opened: 'all',
        }),
      );
      outputs.push(junit(results, project.policy.app));
    }
  }
  outputs.push(diagnosticsText(diagnostics, LOOK), findingsJson(diagnostics));
  outputs.push(sarif(diagnostics, { version: '0.0.0' }));
  const { user, system } = process.cpuUsage(before);
  if ((user + system) / 1e6 > MOST_SECONDS) return `took ${((user + system) / 1e6).toFixed(1)} s`;
  return (
    diagnosticFault(diagnostics, text) ?? outputs.map(outputFault).find((fault) => fault !== null) ?? null
  );
}

function diagnosticFault(diagnostics: readonly Diagnostic[], text: string): string | null {
  for (const { code, message, place } of diagnostics) {
    if (code === 'check-crashed') return message;
    if (place === null && !message.includes('left out')) return `${code} has no place`;
    if (place !== null && !(place.start >= 0 && place.start <= place.end && place.end <= text.length + 1)) {
      return `${code} stands at ${place.start} to ${place.end} of ${text.length}`;
    }
    if (message.includes('undefined') && !text.includes('undefined')) return `${code} says: ${message}`;
    if (!/^[a-z][a-z-]*$/.test(code) || message === '') return `${code} says nothing`;
  }
  return CODES.size === 0 ? 'no checks' : null;
}

function outputFault(output: string): string | null {
  if (/^\s*::[A-Za-z]/m.test(output)) return 'a line begins like a command of a build';
  const unseen = /[^\n\P{C}]|[\p{Zl}\p{Zp}]/u.exec(output);
  return unseen === null ? null : `prints U+${(unseen[0].codePointAt(0) ?? 0).toString(16)}`;
}
