import { formatDuration, type SetCookie } from '../../core/internal.js';
import type { Learnt, LearntToken, Looker } from './learnt.js';

/** Where somebody looked, and by whom. */
export interface Looked {
  readonly at: string;
  readonly login: string;
  readonly lookers: readonly [Looker, Looker];
  /** The variables that hold the passwords, by account; none for those of the policy. */
  readonly variables: ReadonlyMap<string, string>;
  readonly driver: 'requests' | 'a browser';
}

/** A first live.yaml: what was found by looking, with comments on what was seen and what is left to say. */
export function writtenLive(learnt: Learnt, { at, login, lookers, variables, driver }: Looked): string {
  const [one, other] = lookers;
  const lines = [
    `# A first one, written by looking at ${plain(at)} by ${driver}: as a guest, as ${plain(one.account)} and as ${plain(other.account)}.`,
    'cavrin-live: 1',
    `at: ${quoted(at)}`,
    ...(learnt.isProxied
      ? [
          'proxy: trusted # it sends plain http to https, and takes X-Forwarded-Proto from what stands before it',
        ]
      : []),
    '',
    '# Left to say: how the app is started. Then each walk finds it new, and its clock can be moved.',
    '# start: { run: node server.js, ready: GET /health, within: 20s }',
    `# clock: preload   # of a Node app that is started here; or { run: './age.sh {seconds}' }, { request: … } or real`,
    '# reset: restart   # or { run: … } or { request: … }',
    '',
  ];
  if (variables.size > 0) {
    lines.push('accounts: # of the policy; passwords are only named');
    for (const { account, name } of lookers) {
      const variable = variables.get(account);
      if (variable !== undefined) {
        lines.push(`  ${quoted(account)}: { name: ${quoted(name)}, password: env:${variable} }`);
      }
    }
    lines.push('');
  } else {
    lines.push('# People log in by the names and passwords of the policy. Where the app has others:');
    lines.push(`# accounts: { ${quoted(one.account)}: { name: …, password: env:NAME } }`, '');
  }
  lines.push(
    ...loginLines(learnt, login),
    ...whoLines(learnt),
    ...credentialLines(learnt),
    ...logoutLines(learnt),
  );
  for (const note of learnt.notes) lines.push(`# ${plain(note)}`);
  lines.push(
    '# Left to say: what an administrator does to the app, where walks do it.',
    `# deeds: { suspend: { run: './suspend.sh {account}' } }   # set-roles, set-facts, set-flag, delete-account, set-password, rotate-key, revoke-key, restart-app, code, link`,
    '',
  );
  return lines.join('\n');
}

function loginLines({ login }: Learnt, page: string): string[] {
  if (login === null) {
    return [
      `# The login at ${plain(page)} was not found out.`,
      '# login: { form: a selector, name: a field, password: a field }',
      '',
    ];
  }
  const { name, password, remember, role, sends, by, request, hidden } = login;
  const parts = [
    ...(by === 'script' ? [`sends: ${sends}`] : []),
    `name: ${quoted(name)}`,
    `password: ${quoted(password)}`,
    ...(remember === null ? [] : [`remember: ${quoted(remember)}`]),
    ...(role === null ? [] : [`role: ${quoted(role)}`]),
  ];
  const own = hidden.length === 0 ? '' : `; its form brings ${plain(hidden.join(', '))}`;
  const how = by === 'script' ? 'script sends it' : 'a form sends it';
  return [`# ${plain(request)}: ${how}${own}.`, `login: { ${parts.join(', ')} }`, ''];
}

function whoLines({ who }: Learnt): string[] {
  if (who === null) {
    return [
      '# Nothing was found that tells who is signed in. Left to say:',
      "# who: { element: '.who b' }   # or { header: X-User } or { request: GET /api/me, at: /name }",
      '',
    ];
  }
  const says =
    who.says.size === 0
      ? []
      : [
          `says: { ${[...who.says].map(([account, text]) => `${quoted(account)}: ${quoted(text)}`).join(', ')} }`,
        ];
  const where =
    who.by === 'header'
      ? [`header: ${quoted(who.header)}`]
      : [
          `element: ${quoted(who.selector)}`,
          ...(who.attribute === null ? [] : [`attribute: ${quoted(who.attribute)}`]),
        ];
  const others = who.says.size === 0 ? '' : ' # the others say so too';
  return [
    '# It says something else to each, and not that to a guest.',
    `who: { ${[...where, ...says].join(', ')} }${others}`,
    '',
  ];
}

function credentialLines({ session, remember, access, refresh }: Learnt): string[] {
  if (session.length + remember.length === 0 && access === null && refresh === null) {
    return ['# No cookie and no token was seen to come of a login.', '# credentials: { session: [sid] }', ''];
  }
  const lines = ['credentials:'];
  const cookies = (key: string, found: readonly { readonly cookie: SetCookie }[], of: string) => {
    if (found.length === 0) return;
    lines.push(
      `  ${key}: [${found.map(({ cookie }) => quoted(cookie.name)).join(', ')}] # ${of}: ${found.map(({ cookie }) => flagsOf(cookie)).join('; ')}`,
    );
  };
  cookies('session', session, 'set by a login');
  cookies('remember', remember, 'set besides where one asks to be remembered');
  const token = (key: string, found: LearntToken | null) => {
    if (found === null) return;
    const kept =
      found.key === null
        ? []
        : [
            `storage: ${found.storage ?? 'session'}`,
            `key: ${quoted(found.key)}`,
            ...(found.pointer === '' ? [] : [`at: ${quoted(found.pointer)}`]),
          ];
    const seen = [
      ...(found.life === null ? [] : [`it lives ${formatDuration(found.life)}`]),
      ...(found.isBearer ? ['sent as Bearer'] : []),
    ];
    lines.push(
      `  ${key}: { ${[...kept, `answer: ${quoted(found.answer)}`].join(', ')} }${seen.length === 0 ? '' : ` # ${seen.join(', ')}`}`,
    );
  };
  token('access', access);
  token('refresh', refresh);
  return [...lines, ''];
}

function flagsOf({ name, maxAge, httpOnly, secure, sameSite }: SetCookie): string {
  const life =
    maxAge === null
      ? 'until the browser closes'
      : `for ${formatDuration(Math.round(maxAge / 10) * 10 || maxAge)}`;
  const flags = [
    httpOnly ? 'HttpOnly' : 'open to script',
    ...(secure ? ['Secure'] : []),
    sameSite === null ? 'says nothing of other sites' : `SameSite ${sameSite}`,
  ];
  return `${plain(name)} ${life}, ${flags.join(', ')}`;
}

function logoutLines({ logout }: Learnt): string[] {
  if (logout === null) {
    return [
      '# Nothing was found that logs out. Left to say:',
      "# logout: { form: '#sign-out' }   # or { link: a selector } or { request: POST /logout }",
      '',
    ];
  }
  return [`# ${plain(logout.leads)}`.trimEnd(), `logout: { ${logout.by}: ${quoted(logout.selector)} }`, ''];
}

/** A text as YAML takes it: bare where it can be, else in quotes. */
function quoted(text: string): string {
  const isWord = /^[A-Za-z_][\w.-]*$/.test(text) && !/^(?:true|false|null|yes|no|on|off)$/i.test(text);
  if (isWord) return text;
  return /^[ -&(-~]+$/.test(text) ? `'${text}'` : JSON.stringify(text);
}

/** A text of an app within a comment: on one line, and without what is not seen. */
function plain(text: string): string {
  return text.replace(/[\p{C}\p{Zl}\p{Zp}]+/gu, ' ');
}
