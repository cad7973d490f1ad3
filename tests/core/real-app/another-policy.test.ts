import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { parse, stringify } from 'yaml';
import { stageOf } from '../../../src/core/play/stage';
import { sourceOf } from '../../../src/core/language/source';
import { descriptionOf } from '../../../src/core/real-app/described-by';
import { findingsOf, type LiveWalk } from '../../../src/core/real-app/findings';
import type { Observed } from '../../../src/core/real-app/observation';
import { withWaits } from '../../../src/core/real-app/real-time';
import { readProject, type Project } from '../../../src/core/walks/project';
import { playWalk, type StepResult } from '../../../src/core/walks/runner';

const REAL = join(__dirname, '../../../examples/real');
const read = (name: string, file: string) => readFileSync(join(REAL, name, file), 'utf8');

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
const APPS: readonly (readonly [string, readonly string[], unknown, string, string | null])[] = [
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
];

test.each(APPS)('%s, but %j is %j: the first finding %s', (name, path, value, kind, written) => {
  const [policyText, walksText] = [read(name, 'cavrin.yaml'), read(name, 'walks.yaml')];
  const changed = parse(policyText) as unknown;
  let here: unknown = changed;
  for (const key of path.slice(0, -1)) {
    if (Reflect.get(here as object, key) === undefined) Reflect.set(here as object, key, {});
    here = Reflect.get(here as object, key);
  }
  Reflect.set(here as object, path.at(-1) ?? '', value);
  const walks = [sourceOf('walks.yaml', walksText)];
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

test.each(['server-rendered', 'sealed', 'single-page'])(
  '%s: an app that is as its policy says differs in nothing',
  (name) => {
    const project = readProject(sourceOf('cavrin.yaml', read(name, 'cavrin.yaml')), [
      sourceOf('walks.yaml', read(name, 'walks.yaml')),
    ]);
    if (project.policy === null) throw new Error('a policy that cannot be read');
    expect(findingsOf(project.policy, against(project, project))).toEqual([]);
  },
);
