import type {
  Accepted,
  Account,
  Barrier,
  Conditions,
  MenuLink,
  Page,
  Part,
  PolicyPromise,
  Role,
  Rule,
  ShownHow,
  StatedAudiences,
} from '../../language/policy.js';
import { audience, stopped } from './audiences.js';
import {
  always,
  derived,
  flag,
  inTurn,
  lasts,
  named,
  number,
  other,
  section,
  several,
  text,
  under,
  word,
  type Facet,
  type Facets,
  type SettingValue,
} from './facet.js';
import { afterWrite, endpoint, endpoints, facts, landings, OWN_REFUSALS, patterns } from './parts.js';

// Who may see what: people, pages, rules and what is promised of them.

const ROLE: Facets<Role> = { name: derived, includes: under('', several('loosens')), holds: derived };

export const roles: Facet<Iterable<Role>> = named(
  'role',
  ({ name }) => name,
  ROLE,
  'changes',
  ({ includes }) => (includes.length === 0 ? { is: 'present' } : text(`includes ${includes.join(', ')}`)),
);

const ACCOUNT: Facets<Account> = {
  name: derived,
  password: word,
  key: word,
  given: under('roles', several('loosens')),
  roles: derived,
  facts,
  secondFactor: derived,
  alwaysOwesCode: under('second-factor', flag('tightens')),
  state: word,
  joined: other((ago) => (ago === null ? null : `${ago} s ago`)),
};

export const accounts: Facet<Iterable<Account>> = named(
  'account',
  ({ name }) => name,
  ACCOUNT,
  'changes',
  ({ given }): SettingValue => ({ is: 'list', items: given }),
);

const audiences: Facet<StatedAudiences> = {
  keys: [],
  compare({ before, after }, { name, at }, around) {
    const both = before.read === before.write && after.read === after.write;
    const kinds = both
      ? ([['for', 'read']] as const)
      : ([
          ['read', 'read'],
          ['write', 'write'],
        ] as const);
    const said = kinds.flatMap(([key, kind]) =>
      audience.compare({ before: before[kind], after: after[kind] }, { name: `${name}: ${key}`, at }, around),
    );
    const methods = new Set([...before.methods.keys(), ...after.methods.keys()]);
    return [
      ...said,
      ...[...methods].flatMap((method) =>
        audience.compare(
          { before: before.methods.get(method) ?? null, after: after.methods.get(method) ?? null },
          { name: `${name}: ${method}`, at },
          around,
        ),
      ),
    ];
  },
};

const SHOWN_HOW: Facets<ShownHow> = {
  guard: word,
  cache: word,
  refusals: section({ page: under('', always(OWN_REFUSALS)), api: always(OWN_REFUSALS) }, 'changes'),
};

const PART: Facets<Part> = {
  name: derived,
  text: word,
  audience: under('for', audience),
  sends: endpoint,
};

const PAGE: Facets<Page> = {
  ...SHOWN_HOW,
  pattern: derived,
  audiences,
  kind: word,
  forward: section(
    {
      entries: under('', {
        compare: ({ before, after }, spot, around) =>
          landings(`${spot.name}: entry`).compare({ before: before ?? [], after: after ?? [] }, spot, around),
      }),
      stay: word,
    },
    'changes',
  ),
  loads: endpoints,
  answers: under('methods', several('loosens')),
  afterWrite,
  parts: { compare: (values, spot, around) => partsOf(spot.name).compare(values, spot, around) },
  sets: facts,
};

function partsOf(page: string): Facet<Iterable<Part>> {
  return named(`${page.replace(/: parts$/, '')}: part`, ({ name }) => name, PART, 'changes');
}

export const pages: Facet<Iterable<Page>> = named('page', (page) => page.pattern.text, PAGE, 'changes');

const CONDITIONS: Facets<Conditions> = {
  methods: several('changes'),
  hosts: under('host', several('changes')),
  from: {
    compare: ({ before, after }, spot, around) => {
      const names = (value: Conditions['from']) => value && value.map((network) => network.text);
      return several('changes').compare({ before: names(before), after: names(after) }, spot, around);
    },
  },
};

const RULE: Facets<Rule> = {
  ...SHOWN_HOW,
  number: derived,
  patterns: derived,
  expression: derived,
  conditions: under('', always(CONDITIONS)),
  audiences,
  kind: word,
  onlyHttps: under('scheme', flag('tightens')),
};

function ruleName({ patterns: paths, expression }: Rule): string {
  const all = paths.map((path) => path.text);
  return [...all, ...(expression === null ? [] : [expression.source])].join(', ') || 'for everything';
}

function ruleWords({ audiences: { read, write } }: Rule): SettingValue {
  const stated = read ?? write;
  return stated === null ? text('says nobody') : { is: 'audience', audience: stated.audience };
}

export const rules: Facet<readonly Rule[]> = inTurn('rule', ruleName, RULE, 'changes', ruleWords);

const BARRIER: Facets<Barrier> = {
  name: derived,
  stops: stopped,
  answers: word,
  sends: word,
  api: other((status) => (status === null ? 'not stopped' : String(status))),
  lets: patterns('loosens'),
  also: several('tightens'),
  returns: word,
};

export const barriers: Facet<readonly Barrier[]> = inTurn(
  'barrier',
  ({ name }) => name,
  BARRIER,
  'tightens',
  ({ stops }) => ({
    is: 'audience',
    audience: stops.audience,
  }),
);

const MENU_LINK: Facets<MenuLink> = { to: derived, text: word, audience: under('for', audience) };

export const menu: Facet<Iterable<MenuLink>> = named('menu link', ({ to }) => to, MENU_LINK, 'changes');

const PROMISE: Facets<PolicyPromise> = {
  only: several('loosens'),
  reach: derived,
  after: derived,
  copied: derived,
  atMost: under('', lasts('loosens')),
  withinSteps: under('within-steps', {
    compare: ({ before, after }, spot, around) =>
      number('loosens').compare({ before: before ?? 0, after: after ?? 0 }, spot, around),
  }),
};

function promiseName({ only, reach, after, copied }: PolicyPromise): string {
  const pages = reach.map((path) => path.text).join(', ');
  if (only !== null) return `of who reaches ${pages}`;
  if (after === null) return `to come to ${pages}`;
  return copied === null ? `of access after ${after}` : `of a copied ${copied} after ${after}`;
}

export const promises: Facet<Iterable<PolicyPromise>> = named('promise', promiseName, PROMISE, 'tightens');

const ACCEPTED: Facets<Accepted> = { check: derived, because: word };

export const accepted: Facet<Iterable<Accepted>> = named(
  'accepted finding',
  ({ check }) => check,
  ACCEPTED,
  'loosens',
  ({ because }) => text(because),
);
