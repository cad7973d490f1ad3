import { keyNameFault } from '../language/api-key-reader.js';
import { cookieNameFault } from '../language/cookie-reader.js';
import { patternOf } from '../language/text/name-reader.js';
import type { Draft, Line, Plain, Section } from './drafted.js';
import type { DescribedScheme, Evidence } from './evidence.js';
import { landingSection } from './landing-drafted.js';
import { loginSections } from './login-drafted.js';
import { draftedPages, type DraftedPages } from './pages-drafted.js';
import { cookieSections } from './session-drafted.js';
import { madeUpPassword } from './sign-up-found.js';
import { cookiesIn } from './session-found.js';
import { understand, type Story, type Understood } from './story.js';
import { recordedWalks } from './walks-recorded.js';
import { waysIn } from './ways-found.js';

/** A first policy from what recordings, descriptions and lists say. What they do not say is left out, or guessed and marked so. */
export function draftOf(given: Evidence): Draft {
  const { evidence, notes } = withUsableNames(given);
  const understood = understand(evidence);
  const ways = waysIn(understood);
  const cookies = cookiesIn(understood);
  const pages = draftedPages(understood, ways, evidence);
  const landing = landingSection(
    understood,
    ways,
    pages.roles,
    pages.seen.map(({ pattern }) => pattern),
  );
  const logins = loginSections(understood, cookies, ways, evidence, pages.roles);
  const schemes = evidence.descriptions.flatMap((each) => each.schemes);
  const all: (Section | null)[] = [
    { key: 'cavrin', value: 1 },
    appSection(evidence, understood),
    originSection(understood),
    rolesSection(pages),
    accountsSection(understood, pages, schemes),
    { key: 'pages', value: { lines: pages.lines }, guess: unsaidSecurity(evidence) },
    ...proxySections(evidence),
    pages.refusals.section(),
    ...logins,
    landing,
    ...cookieSections(understood, cookies, ways, schemes),
  ];
  const sections = all.filter((section) => section !== null);
  const walks = recordedWalks(understood, pages.seen, new Set(sections.map(({ key }) => key)));
  return {
    sections,
    walks,
    notes: [
      ...evidence.descriptions.flatMap((each) => each.notes),
      ...notes,
      ...notesOn(evidence, understood),
    ],
  };
}

/** What is described at addresses that no page can have, or under names that no policy can say, is left out, and told. */
function withUsableNames(given: Evidence): {
  readonly evidence: Evidence;
  readonly notes: readonly string[];
} {
  const notes: string[] = [];
  const descriptions = given.descriptions.map((description) => {
    const requests = description.requests.filter(({ pattern, method }) => {
      const fault = patternOf(pattern);
      if (typeof fault === 'string') {
        notes.push(`${description.from}: ${method} ${pattern} is left out: ${fault}`);
      }
      return typeof fault !== 'string';
    });
    const schemes = description.schemes.filter((scheme) => {
      const fault = schemeFault(scheme);
      if (fault !== null) notes.push(`${description.from}: a way to log in is left out: ${fault}`);
      return fault === null;
    });
    return { ...description, requests, schemes };
  });
  return { evidence: { ...given, descriptions }, notes };
}

function schemeFault(scheme: DescribedScheme): string | null {
  if (scheme.kind === 'cookie') return cookieNameFault(scheme.name);
  return scheme.kind === 'key' && scheme.name !== null ? keyNameFault(scheme.sent, scheme.name) : null;
}

function appSection({ descriptions }: Evidence, { origin }: Understood): Section {
  const named = descriptions.find(({ app }) => app !== null)?.app ?? null;
  if (named !== null) return { key: 'app', value: named };
  const host = origin?.replace(/^[a-z]+:\/\//, '').replace(/:\d+$/, '') ?? 'My app';
  return { key: 'app', value: host, guess: 'its name is not in the source' };
}

function originSection({ origin }: Understood): Section {
  return origin === null
    ? { key: 'origin', value: 'https://app.example', guess: 'where it is found is not in the source' }
    : { key: 'origin', value: origin };
}

function rolesSection({ roles, scopes }: DraftedPages): Section | null {
  const lines: Line[] = [
    ...roles.all.map(({ name, holders }) => ({
      key: name,
      value: [],
      guess:
        holders.length === 0
          ? 'its name; nobody who was recorded holds it'
          : `its name, made up for ${holders.join(', ')}`,
    })),
    ...scopes.map((name) => ({
      key: name,
      value: [],
      guess: 'that whoever has this scope is a role of its own',
    })),
  ];
  return lines.length === 0 ? null : { key: 'roles', value: { lines } };
}

function accountsSection(
  understood: Understood,
  { roles, scopes }: DraftedPages,
  schemes: readonly DescribedScheme[],
): Section | null {
  const { people, owing, signUp } = understood;
  const known = people.filter((person) => signUp?.people.includes(person) !== true);
  const lines: Line[] = known.map((person) => {
    const held = roles.all.filter(({ holders }) => holders.includes(person)).map(({ name }) => name);
    return {
      key: person,
      value: {
        password: madeUpPassword(person, understood),
        ...(held.length > 0 ? { roles: held } : {}),
        ...(owing.includes(person) ? { 'second-factor': true } : {}),
      },
    };
  });
  if (people.length === 0 && schemes.length > 0) {
    const isKey = schemes.some(({ kind }) => kind === 'key');
    const own = (name: string): Record<string, Plain> => (isKey ? { key: true } : { password: `${name}-1` });
    const [all, none] = isKey ? ['machine', 'machine-without-scopes'] : ['mia', 'ned'];
    lines.push({ key: all, value: { ...own(all), ...(scopes.length > 0 ? { roles: [...scopes] } : {}) } });
    if (scopes.length > 0) lines.push({ key: none, value: own(none) });
  }
  return lines.length === 0
    ? null
    : {
        key: 'accounts',
        value: { lines },
        seen: 'all passwords are made up; none that was recorded is written down',
      };
}

/** Where a description says nothing at all of security, that everybody may is not what it says. */
function unsaidSecurity({ descriptions }: Evidence): string | null {
  const silent = descriptions.filter(
    ({ requests, schemes }) =>
      schemes.length === 0 && requests.every(({ kind, access }) => kind === 'api' && access === 'everyone'),
  );
  const [first] = silent.filter(({ requests }) => requests.length > 0);
  return first === undefined
    ? null
    : 'the description says nothing of security, so all in it is for everyone';
}

/** What is seen of an app that sends plain http to https, and takes from its proxy what came by https. */
function proxySections({ recordings }: Evidence): Section[] {
  if (!recordings.some(({ isBehindProxy }) => isBehindProxy)) return [];
  const rule = { path: '/**', scheme: 'https', for: 'everyone' };
  return [
    {
      key: 'rules',
      value: {
        lines: [
          {
            key: null,
            value: rule,
            seen: 'plain http is sent to https; each page says itself whom it is for',
          },
        ],
      },
    },
    { key: 'proxy', value: { 'ends-tls': true, trusted: true } },
  ];
}

/** Whether no call says which page it comes from, and nobody looked. */
function isMute({ told }: Story): boolean {
  const calls = told.filter(({ act }) => act.kind === 'call');
  const isLookedAt = told.some(({ act }) => act.last.landed !== null);
  return calls.length > 1 && !isLookedAt && calls.every(({ act }) => act.first.referer === null);
}

function notesOn({ recordings }: Evidence, { login, logout, origin, script, stories }: Understood): string[] {
  const notes: string[] = [];
  const mute = script === null ? [] : stories.filter(isMute);
  if (mute.length > 0) {
    notes.push(
      `the requests in ${mute.map(({ recording }) => recording.from).join(', ')} do not say which page they come from (Referrer-Policy), so that what script shows is not told; --at looks by itself`,
    );
  }
  for (const { recording, told } of stories) {
    const { person, from, exchanges, isWithoutCookies } = recording;
    if (told.length === 0) notes.push(`${from} has no request to ${origin ?? 'any app'}`);
    if (isWithoutCookies) {
      notes.push(
        `${from} was saved without cookies, as browsers do unless told otherwise: save it with sensitive data`,
      );
    }
    const documents = told.filter(({ act }) => act.last.type === 'text/html');
    if (documents.length > 0 && documents.every(({ act }) => act.last.body === null)) {
      notes.push(`${from} has no bodies, which tell forms and tokens: save it with content`);
    }
    const hasLogin = told.some(({ part }) => part === 'login' || part === 'sign-up');
    if (person !== null && login !== null && !hasLogin) notes.push(`${from} has no login of ${person}`);
    const others = new Set(exchanges.filter((each) => each.origin !== origin).map((each) => each.origin));
    if (others.size > 0) {
      notes.push(
        `${from}: requests to ${[...others].slice(0, 3).join(', ')}${others.size > 3 ? ' and others' : ''} are left out`,
      );
    }
  }
  if (login !== null && logout === null) {
    notes.push('no recording has a logout: record one, or say by what people log out');
  }
  if (recordings.length > 0 && login === null) {
    notes.push('no recording has a login: record one from before it');
  }
  return notes;
}
