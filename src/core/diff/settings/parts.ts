import type { CookieRules } from '../../http/cookies.js';
import type { AfterWrite, LandingEntry, LinkRules, ReturnRules, ShownAgain } from '../../language/policy.js';
import type { Endpoint } from '../../language/text/placed.js';
import type { Pattern } from '../../paths/pattern.js';
import type { AskedFacts, Facts } from '../../vocabulary/audience.js';
import { REFUSAL_KEYS, type Refusal, type Refusals } from '../../vocabulary/refusal.js';
import { recordOf } from '../../vocabulary/tables.js';
import {
  flag,
  inTurn,
  ladder,
  lasts,
  other,
  several,
  text,
  under,
  word,
  derived,
  type Facet,
  type Facets,
} from './facet.js';
import { type Direction } from '../../vocabulary/direction.js';

// What sections of a policy have in common.

/** `POST /sign-in`. */
export const endpoint = other<Endpoint | null>((value) => value && `${value.method} ${value.path}`);

export const endpoints = other<readonly Endpoint[]>(
  (values) => values.map(({ method, path }) => `${method} ${path}`).join(', ') || null,
);

export const shownAgain = under<ShownAgain | null>(
  'wrong',
  other((value) => value && `shown again with ${value.status}`),
);

export const pattern = other<Pattern>((value) => value.text);

/** Paths, of which more loosens or tightens. */
export function patterns(more: Direction): Facet<readonly Pattern[]> {
  const names = several(more);
  const textOf = (values: readonly Pattern[]) => values.map((value) => value.text);
  return {
    compare: ({ before, after }, spot, around) =>
      names.compare({ before: textOf(before), after: textOf(after) }, spot, around),
  };
}

export const facts = other<Facts | null>((values) => values && factWords(values));

function factWords(values: Facts): string | null {
  return [...values].map(([name, all]) => `${name}: ${all.join(' or ') || 'nothing'}`).join(', ') || null;
}

export const afterWrite = other<AfterWrite>(({ to, status }) => `${to ?? 'stays'} with ${status}`);

/** A cookie without its life, which not all have. */
export const COOKIE: Facets<Omit<CookieRules, 'life'>> = {
  name: word,
  others: under(
    'name',
    other((names) => names.join(', ') || null),
  ),
  secure: flag('tightens'),
  httpOnly: flag('tightens'),
  sameSite: ladder('strict', 'lax', 'unset', 'none'),
  path: word,
  domain: other((domain) => domain ?? 'only the host that sets it'),
};

export const LINK: Facets<LinkRules> = { pattern: under('link', pattern), life: lasts('loosens') };

export function refusalWords(refusal: Refusal): string {
  switch (refusal.to) {
    case 'status':
      return String(refusal.status);
    case 'path':
      return refusal.path;
    case 'login':
      return refusal.login === undefined ? 'login' : `login ${refusal.login}`;
    default:
      return refusal.to;
  }
}

export const REFUSALS: Facets<Refusals> = {
  ...recordOf(REFUSAL_KEYS, (key) => under(key, other(refusalWords))),
  method: word,
};

export const OWN_REFUSALS: Facets<Partial<Refusals>> = {
  ...recordOf(REFUSAL_KEYS, (key) =>
    under(
      key,
      other<Refusal | undefined>((refusal) => (refusal === undefined ? null : refusalWords(refusal))),
    ),
  ),
  method: other<404 | 405 | undefined>((status) => (status === undefined ? null : String(status))),
};

function entryName({ role, facts: asked, leaving }: LandingEntry): string {
  const parts = [
    ...(role === null ? [] : [role.join(' or ')]),
    ...(asked === null ? [] : [askedWords(asked)]),
    ...(leaving === null ? [] : [`leaving ${leaving.text}`]),
  ];
  return parts.length === 0 ? 'for whoever is left' : `for ${parts.join(', ')}`;
}

function askedWords(asked: AskedFacts): string {
  return [...asked].map(([name, { values }]) => `${name} ${values.join(' or ')}`).join(', ');
}

/** Where people land; the first entry that fits decides. */
export function landings(noun: string): Facet<readonly LandingEntry[]> {
  return inTurn(
    noun,
    entryName,
    // Its key is `to`, `otherwise` or that of a logout which lands all at one page.
    { role: derived, facts: derived, leaving: derived, to: under('', word) },
    'changes',
    ({ to }) => text(to),
  );
}

const ACCEPT = ladder('never', 'listed', 'same-origin', 'one-slash', 'leading-slash', 'anything');

const accept: Facet<ReturnRules['accept']> = {
  compare({ before, after }, spot, around) {
    const name = (value: ReturnRules['accept']) => (typeof value === 'string' ? value : ('listed' as const));
    const listed = (value: ReturnRules['accept']) => (typeof value === 'string' ? [] : value.listed);
    const kinds = ACCEPT.compare({ before: name(before), after: name(after) }, spot, around);
    return kinds.length > 0 || name(before) !== 'listed'
      ? kinds
      : patterns('loosens').compare({ before: listed(before), after: listed(after) }, spot, around);
  },
};

export const RETURN: Facets<ReturnRules> = {
  param: word,
  accept,
  onlyIfAllowed: flag('tightens'),
  kept: word,
  carriedOver: word,
  of: word,
};
