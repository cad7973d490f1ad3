import { entriesOf, valueUnder } from '../language/text/plain.js';
import { Capped } from '../language/text/capped.js';
import type { Diagnostic } from '../language/text/diagnostic.js';
import { readPolicy } from '../language/policy-reader.js';
import type { Policy } from '../language/policy.js';
import type { Source } from '../language/text/source.js';
import { readPolicyWalks, readWalkFile } from './walk-reader.js';
import { readYaml, type YamlText } from '../language/text/yaml-text.js';
import { loadRegularLanguages } from '../paths/regular-language.js';
import type { Walk } from '../steps/walk.js';

/** A policy and its walks as read, with all that is wrong in their form. */
export interface Project {
  /** null where the policy cannot be used. */
  readonly policy: Policy | null;
  /** The policy's text, to point into; null where it is no YAML. */
  readonly input: YamlText | null;
  readonly walks: readonly Walk[];
  /** Errors of form, in every file. While there is any, nothing should be played. */
  readonly diagnostics: readonly Diagnostic[];
}

/**
 * Reads a policy with its walks. Every file is read to its end, so that one run reports everything. Asynchronous only
 * because the library behind regular expressions is loaded where the policy has any.
 */
export async function loadProject(policySource: Source, walkSources: readonly Source[]): Promise<Project> {
  const opened = openPolicy(policySource);
  if (hasExpressions(opened.input?.value)) await loadRegularLanguages();
  return readOpened(opened, walkSources);
}

/** The same at once, for policies without regular expressions or once `loadRegularLanguages` is done. */
export function readProject(policySource: Source, walkSources: readonly Source[]): Project {
  return readOpened(openPolicy(policySource), walkSources);
}

interface Opened {
  readonly input: YamlText | null;
  readonly diagnostics: readonly Diagnostic[];
}

function openPolicy(source: Source): Opened {
  const capped = new Capped();
  const input = readYaml(source, (diagnostic) => {
    capped.add(diagnostic);
  });
  return { input, diagnostics: capped.diagnostics };
}

function hasExpressions(value: unknown): boolean {
  return entriesOf(valueUnder(value, 'rules')).some((rule) => valueUnder(rule, 'matches') !== undefined);
}

function readOpened({ input, diagnostics: found }: Opened, walkSources: readonly Source[]): Project {
  const capped = new Capped();
  const report = (diagnostic: Diagnostic) => {
    capped.add(diagnostic);
  };
  found.forEach(report);
  const policy = input === null ? null : readPolicy(input, report);
  const walks = input === null ? [] : readPolicyWalks(input, policy, report);
  for (const source of walkSources) {
    const text = readYaml(source, report);
    if (text !== null) walks.push(...readWalkFile(text, policy, report));
  }
  return { policy, input, walks, diagnostics: capped.diagnostics };
}
