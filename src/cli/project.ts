import {
  hasErrors,
  inReadingOrder,
  loadProject,
  problem,
  type Diagnostic,
  type Policy,
  type Walk,
  type YamlText,
} from '../core/internal.js';
import type { Texts } from './files.js';

/** A policy that can be used, with its walks. */
export interface Usable {
  readonly policy: Policy;
  readonly input: YamlText;
  readonly walks: readonly Walk[];
  /** What was found in reading it that does not forbid using it. */
  readonly notes: readonly Diagnostic[];
}

/** Reads a policy and its walks; gives what is wrong with them where they cannot be used. */
export async function openProject(
  texts: Texts,
): Promise<Usable | { readonly faults: readonly Diagnostic[] }> {
  const project = texts.policy === null ? null : await loadProject(texts.policy, texts.walks);
  const faults = [...texts.faults, ...inReadingOrder(project?.diagnostics ?? [])];
  const policy = project?.policy ?? null;
  const input = project?.input ?? null;
  if (policy === null || input === null || hasErrors(faults)) return { faults };
  const unread = texts.notRead.map((name): Diagnostic => ({
    ...problem('walks-not-read', { name }, null),
    severity: 'warning',
  }));
  return { policy, input, walks: project?.walks ?? [], notes: [...faults, ...unread] };
}

/** The walks with a text in their name, or all where none is asked for; what is wrong where there are none. */
export function wantedWalks(
  walks: readonly Walk[],
  only: string | undefined,
): { readonly walks: readonly Walk[] } | { readonly faults: readonly Diagnostic[] } {
  const wanted = walks.filter(
    ({ name }) => only === undefined || name.toLowerCase().includes(only.toLowerCase()),
  );
  if (wanted.length > 0) return { walks: wanted };
  const isNone = only === undefined || walks.length === 0;
  return {
    faults: [isNone ? problem('no-walks', undefined, null) : problem('no-such-walk', { only }, null)],
  };
}
