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
import type { Fuzzer } from './fuzzer';
import { mutated } from './mutated';

/** How outputs look that are searched. */
export const LOOK = { color: false, width: 100 };

const CODES = new Set(ALL_CHECKS.map(({ meta }) => meta.code));

/** The policies and walks of the examples. */
export function exampleTexts(examples: string): string[] {
  const files = readdirSync(examples, { recursive: true, encoding: 'utf8' }).filter((name) =>
    name.endsWith('.yaml'),
  );
  return files.map((name) => readFileSync(join(examples, name), 'utf8'));
}

/** Policies with walks in them: the examples and the smaller texts of the corpus, mutated. */
export function textFuzzer(examples: string): Fuzzer {
  const made = Object.values(TEXTS).map((make) => make());
  const texts = [...exampleTexts(examples), ...made.filter((text) => text.length < 5_000)];
  return {
    what: 'texts',
    often: 1,
    make: (random) => mutated(random, texts),
    faultOf,
  };
}

/** What is wrong with how a text is answered; null where nothing is. */
async function faultOf(text: string): Promise<string | null> {
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
  return (
    diagnosticFault(diagnostics, text) ?? outputs.map(outputFault).find((fault) => fault !== null) ?? null
  );
}

/** What is wrong with how faults of a text are told. */
export function diagnosticFault(diagnostics: readonly Diagnostic[], text: string): string | null {
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

/** What must be in nothing that is printed. */
export function outputFault(output: string): string | null {
  if (/^\s*::[A-Za-z]/m.test(output)) return 'a line begins like a command of a build';
  const unseen = /[^\n\P{C}]|[\p{Zl}\p{Zp}]/u.exec(output);
  return unseen === null ? null : `prints U+${(unseen[0].codePointAt(0) ?? 0).toString(16)}`;
}
