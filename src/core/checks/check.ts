import type { Severity } from '../language/text/diagnostic.js';
import type { Place } from '../language/text/source.js';
import type { Path, YamlText } from '../language/text/yaml-text.js';
import type { Facts } from './facts.js';

/** What a check is about, for reports and for its page in the documentation. */
export interface CheckMeta {
  /** A stable kebab-case name, the same as the file's. A retired one is never used again. */
  readonly code: string;
  readonly severity: Severity;
  /** The law in one line. */
  readonly title: string;
  /** Why it matters. */
  readonly why: string;
  /** The weakness it is an instance of (https://cwe.mitre.org), where there is one. */
  readonly cwe: string | null;
  /** How to mend it. */
  readonly mend: string;
}

/** Something that a check found, before it is put in words. */
export interface Finding<Params> {
  /** The place of the policy to point at, or of `input` where that is given. */
  readonly at: Path;
  /** Where it stands, where that is no value: a comment. */
  readonly place?: Place;
  /** The file of walks that it stands in. */
  readonly input?: YamlText;
  readonly params: Params;
  /** What would show it: the request, by whom, and the answer. */
  readonly shownBy?: string;
  /** Other places that take part. */
  readonly related?: readonly { readonly at: Path; readonly message: string }[];
}

/** A check of a policy that is sound in form. */
export interface Check<Params> {
  readonly meta: CheckMeta;
  readonly find: (facts: Facts) => Iterable<Finding<Params>>;
  readonly message: (params: Params) => string;
}

/** A check whose findings have been put in words, so that checks of all kinds fit one list. */
export interface AnyCheck {
  readonly meta: CheckMeta;
  readonly find: (facts: Facts) => { readonly finding: Finding<unknown>; readonly message: string }[];
}

/** Makes a check fit for the list. */
export function check<Params>(definition: Check<Params>): AnyCheck {
  return {
    meta: definition.meta,
    find: (facts) =>
      [...definition.find(facts)].map((finding) => ({
        finding,
        message: definition.message(finding.params),
      })),
  };
}
