import { formatDuration, type Cast, type Exposure, type Goal, type SceneOutcome } from '../core/internal.js';
import { count } from './style.js';

/** What is promised, as one line. */
export function goalWords({ id, promise }: Goal): string {
  if (promise === null) return id;
  const { only, reach, after, copied, atMost, withinSteps } = promise;
  const pages = reach.map(({ text }) => text).join(', ');
  if (only !== null) return `only ${only.join(' or ')} may reach ${pages}`;
  if (withinSteps !== null) {
    return `whoever is signed in reaches ${pages} within ${count(withinSteps, 'step')}`;
  }
  const time = formatDuration(atMost ?? 0);
  const since = `after ${EVENTS[after ?? 'logout']}`;
  return copied === null
    ? `${since}, access lasts at most ${time}`
    : `${since}, a copied ${CREDENTIALS[copied]} works at most ${time}`;
}

const EVENTS: Readonly<Record<Exposure['event'], string>> = {
  copied: 'the copy',
  logout: 'the logout',
  'role-removed': 'the roles are removed',
  suspended: 'the account is suspended',
  'password-changed': 'the password is changed',
  unattended: 'the last step in it',
  'logged-out': 'the logout in it',
  sent: 'it is sent',
  made: 'it is made',
  rotated: 'there is another',
  revoked: 'it is called back',
};

const CREDENTIALS: Readonly<Record<Exposure['credential'], string>> = {
  session: 'session cookie',
  access: 'access token',
  refresh: 'refresh token',
  remember: 'remember cookie',
  browser: 'browser left alone',
  'reset-link': 'link for a new password',
  'sign-in-link': 'link to log in by',
  key: 'key of a machine',
};

/** What is exposed and since when: `access token`, `the logout`. */
export function exposureWords({ credential, event }: Pick<Exposure, 'credential' | 'event'>): {
  readonly what: string;
  readonly since: string;
} {
  return { what: CREDENTIALS[credential], since: EVENTS[event] };
}

/** For how long: `5m5s`, `no limit`, or a bound that no walk was found to attain. */
export function endsWords({ ends, isAttained }: Pick<Exposure, 'ends' | 'isAttained'>): string {
  if (ends === null) return isAttained ? 'no limit' : 'no limit known';
  return isAttained ? formatDuration(ends) : `at most ${formatDuration(ends)}`;
}

/** Who takes part in a scene. */
export function castWords({ account, machine, alike, browsers, tabs, thief, administrator }: Cast): string {
  const who = account === null ? 'any account' : anyOf([account, ...alike]);
  const person = [
    `${machine ? 'one machine' : 'one person'} (${who})`,
    browsers > 1 ? `in ${browsers} browsers` : '',
    tabs > 1 ? `with ${tabs} tabs` : '',
  ];
  const others = [thief ? 'a thief' : '', administrator ? 'an administrator' : ''];
  const all = [person.filter((part) => part !== '').join(' '), ...others.filter((part) => part !== '')];
  return [all.slice(0, -1).join(', '), all.at(-1)].filter((part) => part !== '').join(' and ');
}

/** `ines`, `ines or tomas`, `ines, tomas or petra`, and of many only how many more there are. */
function anyOf(names: readonly string[]): string {
  const shown = names.slice(0, MOST_NAMES);
  const more = names.length - shown.length;
  const all = more > 0 ? [...shown, `${more} more`] : shown;
  return [all.slice(0, -1).join(', '), all.at(-1)].filter((part) => part !== '').join(' or ');
}

const MOST_NAMES = 4;

/** The kinds of steps that were tried in some scenes. */
export function verbsOf(outcomes: readonly SceneOutcome[]): string[] {
  return [...new Set(outcomes.flatMap(({ verbs }) => verbs))];
}
