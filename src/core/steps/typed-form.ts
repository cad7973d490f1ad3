/** What may stand at a place of a typed step, for whoever completes it. */
export type Completed =
  | 'account'
  | 'machine'
  | 'page'
  | 'method'
  | 'menu'
  | 'role'
  | 'fact'
  | 'flag'
  | 'login'
  | 'provider'
  | 'credential'
  | 'browser'
  | 'deadline';

/** A kind of step as somebody types it in a line: as reports call it, so that a line of a report can be typed again. */
export interface TypedForm {
  /** How it is typed. */
  readonly usage: string;
  /** What stands after the verb, in the words of reports. */
  readonly form: RegExp;
  /** What a walk that is written down has after the colon. */
  written(found: Found): unknown;
  /** What may stand at each place after the verb: names of a kind, or words themselves. */
  readonly places: readonly (readonly (Completed | `=${string}`)[])[];
}

/** What the named groups of a form found; undefined for those that are not there. */
type Found = Readonly<Record<string, string | undefined>>;

/** A name, in the text of a form. */
export const NAME = '\\S+';
/** A password at the end of a line, which may have spaces. */
export const PASSWORD = '(?: (?<password>\\S.*))?';
/** What stands for a list without anything. */
export const NONE = 'none';

/** A step that is all said by its verb. */
export function alone(verb: string): TypedForm {
  return { usage: verb, form: /^$/, written: () => null, places: [] };
}

/** A step with one name after its verb. */
export function one(usage: string, what: Completed | `=${string}`, more: Partial<TypedForm> = {}): TypedForm {
  return {
    usage,
    form: /^(?<name>\S+)$/,
    written: ({ name }) => name,
    places: [[what]],
    ...more,
  };
}

/** What stands in a line with commas between. */
export function listed(text: string | undefined): string[] {
  return (text ?? '').split(/\s*,\s*/).filter((each) => each !== '');
}

/** A map without what is not there. */
export function present(parts: Readonly<Record<string, unknown>>): Record<string, unknown> {
  return Object.fromEntries(Object.entries(parts).filter(([, value]) => value !== undefined));
}
