import type { AppState } from '../app/app.js';
import type { BrowserState } from '../browser/state.js';
import type { Clock } from '../time/clock.js';
import type { Policy } from '../language/policy.js';
import type { Path } from '../language/text/yaml-text.js';
import type { Outcome } from '../steps/outcome.js';
import type { Played, Stage } from '../play/stage.js';
import type { Action } from '../steps/all-steps.js';
import type { LawBook } from './law-book.js';
import type { LawName } from '../vocabulary/law-names.js';
import type { Memory } from './memory.js';

/** What a law is about, for reports and for its page in the documentation. */
export interface LawMeta {
  readonly name: LawName;
  /** What breaks it. */
  readonly title: string;
  /** What is so where it holds. */
  readonly holds: string;
  /** What would mend it, with the key to write. */
  readonly mend: string;
  /** What a policy has to have that the law is about; left out where it is asked of every policy. */
  readonly needs?: { readonly words: string; readonly isThere: (policy: Policy) => boolean };
  /** law: a walk in which it is broken fails. advice: it is told, no more. */
  readonly weight: 'law' | 'advice';
}

/** A step as the laws look at it. */
export interface View {
  readonly stage: Stage;
  readonly book: LawBook;
  readonly action: Action;
  /** The browser's name in the walk. */
  readonly browser: string;
  /** App and browser before the step. */
  readonly before: AppState;
  readonly from: BrowserState;
  readonly played: Played;
  /** It may be worked out only once it is asked for. */
  readonly outcome: Outcome;
  /** The time after the step. */
  readonly clock: Clock;
  /** What the walk has brought so far, this step left out. */
  readonly memory: Memory;
}

/** That a law was broken. */
export interface Breach {
  readonly law: LawName;
  readonly weight: LawMeta['weight'];
  /** What was seen. */
  readonly seen: string;
  /** The place of the policy that allows it. */
  readonly allowedBy: Path;
  /** What is weak, where and for whom: the same at every step that shows it. */
  readonly weakness: string;
  /** What would mend it, with the key to write. */
  readonly mend: string;
  /** What to write where it is known and kept. */
  readonly own: string;
}

/** What a law saw that breaks it. Where that differs from step to step for one weakness, the weakness is named. */
export type Sight = Pick<Breach, 'seen' | 'allowedBy'> & Partial<Pick<Breach, 'weakness' | 'mend' | 'own'>>;

/** Something that holds at every step of every walk. */
export interface Law {
  readonly meta: LawMeta;
  /** What breaks the law in a step; null where it holds. */
  readonly broken: (view: View) => Sight | null;
}
