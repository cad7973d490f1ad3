import type { Diagnostic } from '../language/text/diagnostic.js';
import { Capped } from '../language/text/capped.js';
import type { Policy } from '../language/policy.js';
import type { Source } from '../language/text/source.js';
import { readYaml, type YamlText } from '../language/text/yaml-text.js';
import type { LiveConfig } from './live-config.js';
import { readLive } from './live-reader.js';

/** live.yaml as read; `config` is null where it cannot be used. */
export interface ReadLive {
  readonly config: LiveConfig | null;
  readonly input: YamlText | null;
  readonly diagnostics: readonly Diagnostic[];
}

/**
 * Reads the text of a live.yaml for a policy.
 *
 * @param at the address of the app in the place of the one that it says; null for that one
 */
export function readLiveText(source: Source, policy: Policy, at: string | null = null): ReadLive {
  const capped = new Capped();
  const report = (diagnostic: Diagnostic) => {
    capped.add(diagnostic);
  };
  const input = readYaml(source, report);
  const config = input === null ? null : readLive({ input, report }, policy, at);
  return { config, input, diagnostics: capped.diagnostics };
}
