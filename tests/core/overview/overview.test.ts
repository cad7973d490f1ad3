import { landingMap } from '../../../src/core/overview/landing-map';
import { limitsOf } from '../../../src/core/overview/limits';
import { stateMap } from '../../../src/core/overview/state-map';
import { playSteps } from '../../../src/core/walks/runner';
import { harbour, policyText, project, shipped, SHIPPED } from '../../support/policies';

type Parts = Parameters<typeof policyText>[0];

function policy(parts: Parts = {}) {
  const read = project(policyText(parts)).policy;
  if (read === null) throw new Error('no policy');
  return read;
}

describe('where everybody lands', () => {
  const landings = (parts: Parts = {}) =>
    landingMap(policy(parts)).map(({ who, way, to }) => `${who} ${way} ${to}`);

  test('is told for every role and every way', () => {
    expect(landings()).toEqual([
      'guest refusal /in',
      'clerk login /desk',
      'clerk the login page again /desk',
      'clerk refusal 403',
      'clerk logout /',
      'chief login /safe',
      'chief the login page again /safe',
      'chief logout /',
      'without a role login /',
      'without a role the login page again /',
      'without a role refusal 403',
      'without a role logout /',
    ]);
  });

  test('has newcomers, pages that only send people on, and barriers', () => {
    const found = landings({
      pages:
        'pages: { /: { for: everyone }, /in: { for: guests }, /join: { for: guests }, /start: { for: signed-in, forward: landing }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /terms: { for: signed-in } }',
      more: 'sign-up: { page: /join, submit: POST /join, then: login }\nbarriers: [{ name: terms, stops: { facts: { terms: waiting } }, sends: /terms, lets: [/terms] }]',
    });
    expect(found).toContain('newcomer sign-up /');
    expect(found).toContain('clerk sent on /desk');
    expect(found).toContain('clerk terms-waiting barrier /terms');
  });

  test('is told for each of several logins, with what says it of each refusal', () => {
    const read = policy({
      pages:
        'pages: { /: { for: everyone }, /in: { for: guests }, /back: { for: guests }, /desk: { for: [clerk], refusals: { role: 404, guest: back } }, /safe: { for: [chief] }, /of/:who: { for: { account: who } } }',
      login:
        'logins: { front: { page: /in, submit: POST /in }, back: { page: /back, submit: POST /back, takes: [chief], landing: [{ otherwise: /desk }] } }',
    });
    const landings = landingMap(read).map(({ who, way, from, to, at }) => [
      who,
      way,
      from,
      to,
      at?.join('.'),
    ]);
    const refusals = landings.filter(([, way]) => way === 'refusal');
    expect(landings.filter(([who, way]) => who === 'chief' && way === 'login')).toEqual([
      ['chief', 'login', '/in', '/safe', 'landing.0'],
      ['chief', 'login', '/back', '/desk', 'logins.back.landing.0'],
    ]);
    // What is one's own refuses nobody, and a 404 is no refusal to be told.
    expect(refusals).toEqual([
      ['guest', 'refusal', '/desk', '/back', 'pages./desk.refusals.guest'],
      ['guest', 'refusal', '/safe', '/in', 'refusals.guest'],
      ['clerk', 'refusal', '/safe', '403', 'refusals.role'],
      ['without a role', 'refusal', '/safe', '403', 'refusals.role'],
    ]);
  });
});

describe('what somebody can be', () => {
  test.each(SHIPPED)('each state of %s is come to by its walk', (name) => {
    const { stage } = shipped(name);
    const { states, passages } = stateMap(stage.app.policy);
    expect(states.length).toBeGreaterThan(4);
    for (const { walk } of states) {
      expect(playSteps(stage, walk).steps.every(({ impossible }) => impossible === null)).toBe(true);
    }
    const names = new Set(states.map((state) => state.name));
    for (const { from, to } of passages) expect([names.has(from), names.has(to)]).toEqual([true, true]);
  });

  test('and by what they pass from one to the other', () => {
    const { passages, states } = stateMap(harbour().stage.app.policy);
    const told = passages.map(({ from, to, by }) => `${from} → ${to}: ${by}`);
    for (const line of [
      'guest → signed in: login of who owes no code',
      'guest → code owed: login of who owes a code',
      'code owed → signed in: right code',
      'guest → locked out: 5 wrong passwords',
      'locked out → guest: 15m (login.attempts)',
      'signed in → idle-expired: 1h (session.idle)',
      'signed in, remembered → remembered, session over: browser closed',
      'remembered, session over → signed in, remembered: next request',
      'remembered, session over → guest: 30d (remember)',
      'signed in → suspended, access token good: suspended',
      'suspended, access token good → suspended: 5m5s (tokens.access)',
    ]) {
      expect(told).toContain(line);
    }
    expect(states.filter(({ isAsGuest }) => isAsGuest).map(({ name }) => name)).toEqual([
      'idle-expired',
      'absolute-expired',
    ]);
  });

  test('nobody is locked out where nothing locks', () => {
    const { states } = stateMap(policy({ login: 'login: { page: /in, submit: POST /in }' }));
    expect(states.map(({ name }) => name)).toEqual([
      'guest',
      'signed in',
      'suspended',
      'idle-expired',
      'absolute-expired',
    ]);
  });
});

test('every time that a policy sets is among the limits', () => {
  expect(limitsOf(policy({ session: 'session: { absolute: 8h }' }))).toEqual([
    { name: 'session.idle', seconds: null, at: ['session', 'idle'] },
    { name: 'session.absolute', seconds: 28_800, at: ['session', 'absolute'] },
    { name: 'login.attempts.within', seconds: 300, at: ['login', 'attempts', 'within'] },
    { name: 'login.attempts.pause', seconds: 300, at: ['login', 'attempts', 'pause'] },
  ]);
  const written = shipped('fennel-row').input?.source.text.match(
    /(?<![-\w])(?:life|idle|absolute|pause|within|overlap): \d+[smhd]/g,
  );
  expect(limitsOf(shipped('fennel-row').stage.app.policy).length).toBe(written?.length);
});
