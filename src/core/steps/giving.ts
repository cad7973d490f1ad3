import { given } from '../credentials/holdings.js';
import { CREDENTIALS, credentialWords, type Credential } from '../vocabulary/credentials.js';
import { choice, section, text } from '../language/text/schema-parts.js';
import { atRest, type Came, type Here, type StepKind } from './step-kind.js';
import type { Stage } from '../play/stage.js';

/** Somebody else gets hold of what this browser has; it keeps its own. */
export interface Copy {
  readonly verb: 'copy';
  readonly what: Credential;
  readonly to: string;
}

/** Puts what this browser has into another, which takes it for its own. */
export interface Plant {
  readonly verb: 'plant';
  readonly what: Credential;
  readonly to: string;
}

const browserName = () => text('the name of a browser');

export const copy: StepKind<Copy, { what: Credential; to: string }> = {
  verb: 'copy',
  row: [
    '`copy: { what: session, to: thief }`',
    'gives another browser a copy of `session`, `access`, `refresh` or `remember`, which it keeps whatever happens',
  ],
  typed: {
    usage: 'copy session to thief',
    form: /^(?<what>\S+) to (?<to>\S.*)$/,
    written: ({ what, to }) => ({ what, to }),
    places: [['credential'], ['=to'], ['browser']],
  },
  traits: ['no-login'],
  tale: ({ what, to }) => ({ who: null, deed: `a ${to} copies the ${credentialWords(what)}` }),
  gives: ({ what, to }) => ({ what, to, isCopy: true }),
  givenTo: (action, to) => ({ ...action, to }),
  schema: () =>
    section('a copy step such as { what: session, to: thief }', {
      what: choice(CREDENTIALS),
      to: browserName(),
    }),
  asksNothing: true,
  read: ({ what, to }) => ({ verb: 'copy', what, to }),
  by: 'giver',
  play: give,
  words: ({ what, to }) => `copy ${what} to ${to}`,
  written: ({ what, to }) => ({ what, to }),
};

export const plant: StepKind<Plant, { what: Credential; in: string }> = {
  verb: 'plant',
  row: [
    '`plant: { what: session, in: browser }`',
    'puts what this browser has into another, whose own it is from then on',
  ],
  typed: {
    usage: 'plant session in browser',
    form: /^(?<what>\S+) in (?<in>\S.*)$/,
    written: (found) => ({ what: found['what'], in: found['in'] }),
    places: [['credential'], ['=in'], ['browser']],
  },
  traits: ['no-login'],
  untried: 'whoever has a copy is tried',
  gives: ({ what, to }) => ({ what, to, isCopy: false }),
  givenTo: (action, to) => ({ ...action, to }),
  schema: () =>
    section('a plant step such as { what: session, in: browser }', {
      what: choice(CREDENTIALS),
      in: browserName(),
    }),
  asksNothing: true,
  read: ({ what, in: to }) => ({ verb: 'plant', what, to }),
  by: 'giver',
  play: give,
  words: ({ what, to }) => `plant ${what} in ${to}`,
  written: ({ what, to }) => ({ what, in: to }),
};

function give(
  stage: Stage,
  { state, browser, other, clock }: Here,
  { verb, what }: Copy | Plant,
): Came | string {
  const to = given(stage, browser, other, { what, isCopy: verb === 'copy' }, clock);
  if (to === null) return `this browser holds no ${what} to ${verb}`;
  return { played: atRest(state, browser), given: to };
}
