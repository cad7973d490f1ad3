import {
  inReadingOrder,
  loadProject,
  runChecks,
  hasErrors,
  type Diagnostic,
  type Policy,
  type Source,
  type YamlText,
} from '../core/internal.js';

/** The texts of a policy and its walks, as an editor has them. */
export interface EditedTexts {
  readonly policy: Source | null;
  readonly walks: readonly Source[];
}

/** What is known of a policy while it is edited. */
export interface Context {
  readonly policySource: Source | null;
  /** null where it cannot be read as it is. */
  readonly policy: Policy | null;
  readonly input: YamlText | null;
  readonly diagnostics: readonly Diagnostic[];
}

/** Reads texts as they are, with what is wrong or careless in them. */
export async function contextOf({ policy: source, walks }: EditedTexts): Promise<Context> {
  if (source === null) return { policySource: null, policy: null, input: null, diagnostics: [] };
  const { policy, input, walks: read, diagnostics } = await loadProject(source, walks);
  const isUsable = policy !== null && input !== null && !hasErrors(diagnostics);
  const careless = isUsable ? runChecks(policy, input, read) : [];
  return { policySource: source, policy, input, diagnostics: inReadingOrder([...diagnostics, ...careless]) };
}
