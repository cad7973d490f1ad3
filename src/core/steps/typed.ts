import { ANY_STEPS } from './all-steps.js';
import { present, type TypedForm } from './typed-form.js';

/** How each kind of step is typed, by its verb. */
export const TYPED: ReadonlyMap<string, TypedForm> = new Map(
  ANY_STEPS.map(({ verb, typed }) => [verb, typed]),
);

/** A step as it is written down: a key for what is done, and where. */
export type WrittenStep = Readonly<Record<string, unknown>>;

/** A step as it was typed; or the kind that it seems to be, null for none, whose form it has not. */
export type TypedStep =
  | { readonly step: WrittenStep }
  | { readonly step: null; readonly word: string; readonly usage: string | null };

/** The browser that a line names, undefined where it names none, and what is left: `in thief: visit /office`. */
export function typedIn(line: string): { readonly browser: string | undefined; readonly rest: string } {
  const [, browser, rest = ''] = /^(?:in ([^:]+?)\s*:\s*)?(.*)$/.exec(line.trim()) ?? [];
  return { browser, rest };
}

/** Reads a step that is typed in a line, in the words of reports: `in thief: visit /office from https://mail.example`. */
export function readTyped(line: string): TypedStep {
  const { browser, rest: all } = typedIn(line);
  const [, body = '', network] = /^(.*?)(?:,? connected from (\S+))?$/.exec(all) ?? [];
  const [, word = '', rest = ''] = /^(\S+?):?(?:\s+(.*))?$/.exec(body) ?? [];
  const kind = TYPED.get(word);
  if (kind === undefined) return { step: null, word, usage: null };
  const [, told = '', from] = /^(.*?)(?:,? from (https?:\/\/\S+))?$/.exec(rest.trim()) ?? [];
  const found = kind.form.exec(told);
  if (found === null) return { step: null, word, usage: kind.usage };
  const where = present({ from, in: browser, 'connects-from': network });
  return { step: { [word]: kind.written(found.groups ?? {}), ...where } };
}
