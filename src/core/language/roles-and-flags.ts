import { checkName, type Scope } from './text/name-reader.js';
import type { Placed } from './text/placed.js';
import { problem } from './text/problems.js';
import { nearest } from './text/suggestions.js';
import type { Path } from './text/yaml-text.js';

/** A role; `holds` has the role itself and, through them all, the roles it includes. */
export interface Role extends Placed {
  readonly name: string;
  readonly includes: readonly string[];
  readonly holds: ReadonlySet<string>;
}

/** The roles of a policy, which report a name that is none of them. */
export class Roles extends Map<string, Role> {
  constructor(private readonly scope: Scope) {
    super();
  }

  /** The name itself; one that is not defined is reported at its place, with the nearest of the names and other words there. */
  resolve(name: string, at: Path, alsoMeant: readonly string[] = []): string {
    if (!this.has(name)) {
      const near = nearest(name, [...this.keys(), ...alsoMeant]);
      const audiences = alsoMeant.length === 0 ? null : [...this.keys()];
      this.scope.report(problem('unknown-role', { name, near, audiences }, this.scope.input.placeOf(at)));
    }
    return name;
  }
}

/** The flags of a policy, which report a name that is none of them. */
export class Flags extends Map<string, boolean> {
  constructor(
    text: Readonly<Record<string, boolean>>,
    private readonly scope: Scope,
  ) {
    super(Object.entries(text));
    for (const name of this.keys()) {
      checkName(name, 'flag', scope.input.placeOfKey(['flags'], name), scope.report);
    }
  }

  /** How some flags are to stand; a name that is not defined is reported at its place. */
  resolve(text: Readonly<Record<string, boolean>>, at: Path): ReadonlyMap<string, boolean> {
    for (const name of Object.keys(text)) {
      if (this.has(name)) continue;
      const near = nearest(name, this.keys());
      this.scope.report(problem('unknown-flag', { name, near }, this.scope.input.placeOfKey(at, name)));
    }
    return new Map(Object.entries(text));
  }
}
