import {
  hasErrors,
  inReadingOrder,
  LIMITS,
  loadProject,
  problem,
  runChecks,
  sourceOf,
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

/** What a policy says while it is edited; null where it cannot be read as it is. */
export interface Reading {
  readonly policy: Policy | null;
  readonly input: YamlText | null;
}

/** Reads a policy as it is. */
export async function readingOf({ policy: source }: EditedTexts): Promise<Reading> {
  if (source === null || isTooLarge(source)) return { policy: null, input: null };
  return loadProject(source, []);
}

/** What is wrong or careless in texts as they are. */
export async function findingsOf({ policy: source, walks }: EditedTexts): Promise<Diagnostic[]> {
  if (source === null) return [];
  const large = [source, ...walks].filter(isTooLarge);
  if (large.length > 0) return large.map(tooLarge);
  const { policy, input, walks: read, diagnostics } = await loadProject(source, walks);
  const isUsable = policy !== null && input !== null && !hasErrors(diagnostics);
  const careless = isUsable ? runChecks(policy, input, read) : [];
  return inReadingOrder([...diagnostics, ...careless]);
}

function isTooLarge({ text }: Source): boolean {
  return Buffer.byteLength(text) > LIMITS.bytes;
}

function tooLarge({ file }: Source): Diagnostic {
  const empty = sourceOf(file, '');
  return problem('too-large', { mebibytes: LIMITS.bytes / 1024 / 1024 }, { source: empty, start: 0, end: 0 });
}
