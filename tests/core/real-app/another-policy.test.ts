import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { parse, stringify } from 'yaml';
import { stageOf } from '../../../src/core/play/stage';
import { sourceOf, type Source } from '../../../src/core/language/text/source';
import { descriptionOf } from '../../../src/core/real-app/described-by';
import { findingsOf, type LiveWalk } from '../../../src/core/real-app/findings';
import type { Observed } from '../../../src/core/real-app/observation';
import { withWaits } from '../../../src/core/real-app/real-time';
import { readProject, type Project } from '../../../src/core/walks/project';
import { playWalk, type StepResult } from '../../../src/core/walks/runner';

const REAL = join(__dirname, '../../../examples/real');
const FENNEL_ROW = join(__dirname, '../../../examples/fennel-row');

/** The text of a policy of an example, and its walks. */
function textsOf(name: string): { readonly policy: string; readonly walks: readonly Source[] } {
  const folder = name === 'fennel-row' ? FENNEL_ROW : join(REAL, name);
  const files =
    name === 'fennel-row'
      ? readdirSync(join(folder, 'walks')).map((each) => `walks/${each}`)
      : ['walks.yaml'];
  const walks = files.map((file) => sourceOf(file, readFileSync(join(folder, file), 'utf8')));
  return { policy: readFileSync(join(folder, 'cavrin.yaml'), 'utf8'), walks };
}

/** What an app does in a step that is as a policy says. */
function observedOf({ outcome, played }: StepResult): Observed {
  const { lands, status, seenAs, via, refreshes, menu, parts, holds } = outcome;
  const messages = played.exchanges.map(({ request, response }) => ({
    method: request.method,
    target: request.path + request.query,
    status: response.status,
    location: response.location,
    isAgain: response.body.kind === 'page' && response.body.again !== null,
  }));
  return {
    lands,
    status,
    seenAs,
    toldBy: 'answer',
    via,
    refreshes,
    menu,
    parts,
    holds,
    messages,
    isThere: null,
    hindrance: null,
    unjudged: new Map(),
  };
}

/** All walks of a policy as an app plays them that is as another policy says, at the same times. */
function against({ policy, walks }: Project, app: Project): LiveWalk[] {
  if (policy === null || app.policy === null) throw new Error('a policy that cannot be read');
  const [stage, other] = [stageOf(policy), stageOf(app.policy)];
  return walks.map((walk) => {
    const own = playWalk(stage, walk).steps;
    const lengths = own.map(({ time }, index) => time - (own[index - 1]?.time ?? 0));
    const theirs = playWalk(other, withWaits(walk, lengths)).steps;
    const steps = own.flatMap((result, index) => {
      const their = theirs[index];
      return their === undefined || their.impossible !== null || result.impossible !== null
        ? []
        : [{ result, seen: observedOf(their) }];
    });
    return { walk, driver: 'http', steps, cut: null };
  });
}

/** Apps that are as the policy of an example says but for one thing: the example, what is otherwise, and what is found. */
const APPS: readonly (readonly [string, readonly (string | number)[], unknown, string, string | null])[] = [
  ['server-rendered', ['pages', '/safe', 'for'], 'signed-in', 'opens', 'pages./safe.for: signed-in'],
  ['server-rendered', ['pages', '/desk', 'for'], ['chief'], 'refuses', 'pages./desk.for: [chief]'],
  [
    'server-rendered',
    ['pages', '/loans/:id', 'write'],
    'signed-in',
    'opens',
    'pages./loans/:id.write: signed-in',
  ],
  ['server-rendered', ['refusals', 'role'], 404, 'way', 'refusals.role: 404'],
  ['server-rendered', ['refusals', 'method'], 405, 'way', 'refusals.method: 405'],
  [
    'server-rendered',
    ['login', 'wrong'],
    { shown: true, status: 200 },
    'way',
    'login.wrong: { status: 200 }',
  ],
  ['server-rendered', ['landing', '1', 'to'], '/loans', 'lands', 'landing.1.to: /loans'],
  ['server-rendered', ['logout', 'lands'], '/catalogue', 'lands', 'logout.lands: /catalogue'],
  ['server-rendered', ['logout', 'ends'], [], 'opens', 'logout.ends: []'],
  ['server-rendered', ['session', 'starts'], 'at-first-visit', 'holds', 'session.starts: at-first-visit'],
  ['server-rendered', ['session', 'renews'], 'never', 'holds', 'session.renews: never'],
  ['server-rendered', ['session', 'idle'], '10m', 'holds', null],
  ['server-rendered', ['remember', 'rotates'], false, 'opens', null],
  ['server-rendered', ['csrf', 'refused'], 419, 'way', 'csrf.refused: 419'],
  ['sealed', ['login', 'return', 'accept'], 'never', 'lands', 'login.return.accept: never'],
  ['sealed', ['pages', '/shelf', 'after-write'], '/', 'lands', 'pages./shelf.after-write: /'],
  ['sealed', ['session', 'absolute'], '2h', 'opens', null],
  ['sealed', ['session', 'roles'], 'each-request', 'opens', null],
  ['single-page', ['tokens', 'refresh', 'reuse'], 'accept', 'opens', 'tokens.refresh.reuse: accept'],
  ['single-page', ['logout', 'ends'], [], 'opens', 'logout.ends: []'],
  ['single-page', ['pages', '/api/safe', 'for'], 'signed-in', 'opens', 'pages./api/safe.for: signed-in'],
  ['single-page', ['pages', '/api/loans', 'write-status'], 200, 'way', 'pages./api/loans.write-status: 200'],
  ['fennel-row', ['barriers', 1, 'api'], 401, 'way', 'barriers.1.api: 401'],
  ['fennel-row', ['barriers', 0, 'answers'], 502, 'way', 'barriers.0.answers: 502'],
  ['fennel-row', ['password', 'ends'], ['links'], 'opens', 'password.ends: [links]'],
  ['fennel-row', ['password', 'change', 'asks-old'], false, 'opens', 'password.change.asks-old: false'],
  ['fennel-row', ['password', 'reset', 'then'], 'login', 'lands', 'password.reset.then: login'],
  ['fennel-row', ['link-login', 'same-browser'], false, 'opens', 'link-login.same-browser: false'],
  ['fennel-row', ['impersonation', 'kept'], 'account', 'opens', 'impersonation.kept: account'],
];

test.each(APPS)('%s, but %j is %j: the first finding %s', (name, path, value, kind, written) => {
  const { policy: policyText, walks } = textsOf(name);
  const changed = parse(policyText) as unknown;
  let here: unknown = changed;
  for (const key of path.slice(0, -1)) {
    if (Reflect.get(here as object, key) === undefined) Reflect.set(here as object, key, {});
    here = Reflect.get(here as object, key);
  }
  Reflect.set(here as object, path.at(-1) ?? '', value);
  const own = readProject(sourceOf('cavrin.yaml', policyText), walks);
  const app = readProject(sourceOf('app.yaml', stringify(changed)), walks);
  expect(app.policy).not.toBeNull();
  const played = against(own, app);
  if (own.policy === null || own.input === null) throw new Error('a policy that cannot be read');
  const [first] = findingsOf(own.policy, played);
  expect(first?.class).toBe(kind);
  const description = first && descriptionOf(own.input, own.policy, first, played);
  if (written !== null) expect(description?.written).toBe(written);
});

test.each(['server-rendered', 'sealed', 'single-page', 'fennel-row'])(
  '%s: an app that is as its policy says differs in nothing',
  (name) => {
    const { policy, walks } = textsOf(name);
    const project = readProject(sourceOf('cavrin.yaml', policy), walks);
    if (project.policy === null) throw new Error('a policy that cannot be read');
    expect(findingsOf(project.policy, against(project, project))).toEqual([]);
  },
);
