import { Asked, short } from '../../support/asked';

describe('who is let in', () => {
  const asked = new Asked({
    pages:
      'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: clerk }, /safe: { for: [chief] }, /mine/:who: { for: { account: who } }, /form: { read: everyone, write: chief }, /both: { for: { all: [clerk, chief] } }, /not: { for: { any: [clerk], none: chief } }, /bare: {}, /in/:any: {}, /shut: { for: nobody } }',
    rules:
      'rules: [{ path: /data/**, kind: api, for: clerk }, { path: /data/open, for: everyone }, { path: /bare, for: everyone }]',
  });
  const ann = { cookie: asked.logIn('ann', 'a-1') };
  const bo = { cookie: asked.logIn('bo', 'b-2') };
  const cy = { cookie: asked.logIn('cy', 'c-3') };
  const nobody = {};

  test.each([
    [
      'a guest at a page of a role goes to the login with the way back',
      nobody,
      'GET /desk?x=1',
      '302 /in?back=/desk%3Fx%3D1 guest',
    ],
    ['after a write without the way back, by 303', nobody, 'POST /desk', '303 /in guest'],
    ['its holder is served', ann, 'GET /desk', '200 - served'],
    ['who holds a role that includes it is too', bo, 'GET /desk', '200 - served'],
    ['somebody without it is refused', cy, 'GET /desk', '403 - role'],
    ['a signed-in visitor at a page for guests goes to the landing', ann, 'GET /in', '302 /desk guests-only'],
    ['and also when sending to it', ann, 'POST /in', '303 /desk guests-only'],
    ['the account in the path is served', ann, 'GET /mine/ann', '200 - served'],
    ['another is not', ann, 'GET /mine/bo', '403 - not-owner'],
    ['reading may be open where writing is not', nobody, 'GET /form', '200 - served'],
    ['writing then is refused', ann, 'DELETE /form', '403 - role'],
    ['OPTIONS reads', nobody, 'OPTIONS /form', '204 - served'],
    ['all: every role', bo, 'GET /both', '200 - served'],
    ['all: one is not enough', ann, 'GET /both', '403 - role'],
    ['none: an excluded role', bo, 'GET /not', '403 - role'],
    ['none: without it', ann, 'GET /not', '200 - served'],
    [
      'nobody: a guest is refused as for a role, without a login that would not help',
      nobody,
      'GET /shut',
      '403 - role',
    ],
    ['nobody: with every role', bo, 'GET /shut', '403 - role'],
    ['a page without an audience takes that of the first rule', nobody, 'GET /bare', '200 - served'],
    ['a page that no rule speaks of takes `otherwise`', nobody, 'GET /in/x', '302 /in?back=/in/x guest'],
    ['an unknown address under a rule settles the audience first', nobody, 'GET /data/x', '401 - guest'],
    ['and is unknown to those in it', ann, 'GET /data/x', '404 - unknown-page'],
    [
      'the first rule that matches decides, the next is not looked at',
      nobody,
      'GET /data/open',
      '401 - guest',
    ],
    ['an unknown address under no rule is unknown to everyone', nobody, 'GET /nowhere', '404 - unknown-page'],
    ['an unsafe path is refused', ann, 'GET /desk%2Fx', '400 - unsafe-path'],
    [
      'a path is normalised before it is judged, and so is the way back',
      nobody,
      'GET //%64esk/',
      '302 /in?back=/desk guest',
    ],
    ['an endpoint that is no page answers its own method only', ann, 'GET /out', '405 - method-not-allowed'],
  ])('%s', (_law, who, line, expected) => {
    expect(short(asked.ask(line, who))).toBe(expected);
  });

  test('a 405 names the methods (RFC 9110 §15.5.6), a 401 the scheme (§15.5.2)', () => {
    expect(asked.ask('GET /out').response.allow).toEqual(['POST']);
    expect(asked.ask('GET /data/x').response.authenticate).toBe('Bearer');
    const shown = asked.ask('GET /data/x', { authorization: 'Bearer access-9' });
    expect(shown.response.authenticate).toBe('Bearer error="invalid_token"');
  });

  test('HEAD is answered like GET without the content (RFC 9110 §9.3.2), OPTIONS with the methods (§9.3.7)', () => {
    expect(asked.ask('HEAD /').response).toEqual({ ...asked.ask('GET /').response, body: { kind: 'empty' } });
    expect(asked.ask('OPTIONS /out').response.allow).toEqual(['OPTIONS', 'POST']);
    expect(asked.ask('OPTIONS /').response.allow).toContain('DELETE');
    expect(short(asked.ask('OPTIONS /nowhere'))).toBe('404 - unknown-page');
  });

  test('a refusal says no more than its status and a short title', () => {
    expect(asked.ask('GET /safe', ann).response.body).toEqual({ kind: 'problem', title: 'Not allowed' });
  });

  test('the place that decided is named', () => {
    expect(asked.ask('GET /desk').explanation.decidedBy).toEqual(['pages', '/desk', 'for']);
    expect(asked.ask('GET /data/x').explanation.decidedBy).toEqual(['rules', 0, 'for']);
    expect(asked.ask('GET /in/x').explanation.decidedBy).toEqual(['otherwise']);
  });
});
