import * as z from 'zod';
import { once } from '../language/text/once.js';
import { choice, duration, listOf, mapOf, oneOrMore, section, text } from '../language/text/schema-parts.js';

/** The shape of live.yaml; made only where one is read. */
export const liveSchema = once(() => {
  const selector = text('a CSS selector such as .who b');
  const pointer = z.string({ error: 'a JSON pointer such as /name (RFC 6901)' }).regex(/^(?:\/[^/]*)*$/, {
    error: 'a JSON pointer starts with a slash, such as /user/name (RFC 6901)',
  });
  const requestLine = z
    .string({ error: 'a request such as POST /test/clock' })
    .regex(/^(?:GET|HEAD|OPTIONS|POST|PUT|PATCH|DELETE) \/\S*$/, {
      error: 'a request is written as its method and path, such as GET /health',
    });
  const words = z.union(
    [text('a command'), listOf('a command and its arguments', z.string({ error: 'an argument' }))],
    { error: 'a command such as ./age.sh {seconds}, or a list of its words' },
  );
  const secret = z.string({ error: 'env: and the name of a variable' }).regex(/^env:[A-Za-z_]\w*$/, {
    error: 'a secret is not written here: write env:NAME, and set the variable NAME where the run is started',
  });
  const fields = mapOf('names and values', z.string({ error: 'text' }));

  const run = (label: string) => section(`${label} by a command`, { run: words });
  const request = (label: string) =>
    section(`${label} by a request`, {
      request: requestLine,
      form: fields.optional(),
      json: fields.optional(),
      headers: fields.optional(),
    });
  /** Something that a run has done: by a command or by a request. */
  const done = (label: string) =>
    z.union([run(label), request(label)], { error: '{ run: a command } or { request: a request }' });

  const form = (label: string) =>
    section(label, {
      form: selector.optional(),
      sends: choice(['form', 'json']).optional(),
      name: text('the name of a field').optional(),
      password: text('the name of a field').optional(),
      remember: text('the name of a field').optional(),
      role: text('the name of a field').optional(),
      code: text('the name of a field').optional(),
    });

  const says = mapOf('what is said of each account', text('a text')).optional();

  const token = (label: string) =>
    section(label, {
      storage: choice(['session', 'local']).optional(),
      key: text('the key in the storage').optional(),
      at: pointer.optional(),
      answer: pointer.optional(),
      sends: choice(['form', 'json']).optional(),
      field: text('the name of a field').optional(),
      cookies: oneOrMore('the name of a cookie or a list of them', text('the name of a cookie')).optional(),
    });

  const cookies = oneOrMore('the name of a cookie or a list of them', text('the name of a cookie'));

  return section('a live run', {
    'cavrin-live': z.literal(1, { error: '1, the version of this format' }),
    at: text('the address of the app, such as http://127.0.0.1:3000'),
    start: section('start', {
      run: words,
      ready: requestLine.optional(),
      within: duration().optional(),
      env: fields.optional(),
    }).optional(),
    proxy: choice(['trusted', 'none']).optional(),
    accounts: mapOf(
      'accounts and how they log in',
      section('an account of the app', {
        name: text('the name to log in by').optional(),
        password: secret.optional(),
        key: secret.optional(),
      }),
    ).optional(),
    login: form('the login form').optional(),
    'sign-up': form('the sign-up form').optional(),
    code: form('the form of the one-time code').optional(),
    who: z
      .union(
        [
          section('who by an element', {
            element: selector,
            attribute: text('the name of an attribute').optional(),
            says,
            'signed-in-where': selector.optional(),
          }),
          section('who by a header', { header: text('the name of a header'), says }),
          section('who by a request', { request: requestLine, at: pointer, says }),
        ],
        { error: '{ element: a selector }, { header: its name } or { request: a request, at: a pointer }' },
      )
      .optional(),
    menu: selector.optional(),
    pages: mapOf(
      'pages and what shows that they are there',
      section('a page of the app', {
        'shown-when': selector.optional(),
        parts: mapOf('a map of parts and where they are', selector).optional(),
      }),
    ).optional(),
    credentials: section('credentials', {
      session: cookies.optional(),
      remember: cookies.optional(),
      access: token('the access token').optional(),
      refresh: token('the refresh token').optional(),
    }).optional(),
    logout: z
      .union(
        [
          section('logout by a form', { form: selector }),
          section('logout by a link', { link: selector }),
          section('logout by a request', { request: requestLine }),
        ],
        { error: '{ form: a selector }, { link: a selector } or { request: a request }' },
      )
      .optional(),
    clock: z
      .union([choice(['preload', 'real']), done('the clock')], {
        error: 'preload, real, { run: a command } or { request: a request }',
      })
      .optional(),
    deeds: section('deeds', {
      suspend: done('suspend').optional(),
      'delete-account': done('delete-account').optional(),
      'set-roles': done('set-roles').optional(),
      'set-facts': done('set-facts').optional(),
      'set-password': done('set-password').optional(),
      'set-flag': done('set-flag').optional(),
      'rotate-key': done('rotate-key').optional(),
      'revoke-key': done('revoke-key').optional(),
      'restart-app': done('restart-app').optional(),
      code: done('the one-time code').optional(),
      link: done('the link of a new account').optional(),
    }).optional(),
    reset: z
      .union([choice(['restart', 'none']), done('the reset')], {
        error: 'restart, none, { run: a command } or { request: a request }',
      })
      .optional(),
    accepted: z
      .array(
        section('an accepted difference', {
          difference: text('the difference, as the report names it'),
          because: text('the reason'),
        }),
        { error: 'a list of accepted differences' },
      )
      .optional(),
  });
});

/** live.yaml as it is written. */
export type LiveText = z.output<ReturnType<typeof liveSchema>>;
export type DoneText = { readonly run: string | string[] } | RequestText;
export interface RequestText {
  readonly request: string;
  readonly form?: Readonly<Record<string, string>> | undefined;
  readonly json?: Readonly<Record<string, string>> | undefined;
  readonly headers?: Readonly<Record<string, string>> | undefined;
}

/** The JSON Schema (draft 2020-12) of live.yaml, for editors. */
export function liveJsonSchema(): Record<string, unknown> {
  return {
    ...z.toJSONSchema(liveSchema(), { io: 'input', unrepresentable: 'any' }),
    title: 'A live run of Cavrin',
  };
}
