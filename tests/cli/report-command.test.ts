import { load, type CheerioAPI } from 'cheerio';
import { policyText } from '../support/policies';
import { Workplace } from '../support/program';

let place: Workplace;
beforeEach(() => {
  place = new Workplace();
});
afterEach(() => {
  place.remove();
});

/** The text of a section, as somebody reads it. */
function said(page: CheerioAPI, id: string): string {
  return page(`#${id}`).text().replace(/\s+/g, ' ');
}

const TOKENS = policyText({
  login: 'login: { page: /in, submit: POST /in, by: both, attempts: { most: 5, within: 5m, pause: 5m } }',
  pages:
    'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /safe: { for: [chief] }, /hall: { for: signed-in }, /api/x: { for: [clerk], kind: api } }',
  more: 'tokens: { access: { life: 5m, leeway: 0s }, submit: POST /token }\npromises: [{ after: logout, copied: access, works-at-most: 5m }]',
});

test('a sound policy: who may do what, what follows from it, and where it says so', () => {
  place.put('cavrin.yaml', TOKENS);
  place.put(
    'walks.yaml',
    'walks: [{ name: Ann at her desk, steps: [{ login: ann, lands: /desk }, logout: ] }]',
  );
  const { status, out, err } = place.run(['report']);
  expect([status, err]).toEqual([1, '']);
  const page = load(out);
  const verdict = said(page, 'verdict');
  expect(verdict).toMatch(/1 of 1 walk come out as they say/);
  expect(verdict).toMatch(/A session ends after 30m away\. line 11/);
  expect(verdict).toMatch(
    /A stolen session cookie can be used for 8h; it is worth nothing once its owner logged out/,
  );
  expect(verdict).toMatch(/A stolen access token can be used for 5m; it still opens something for 5m after/);
  const row = page('table.access tbody tr').filter((_, each) => page(each).find('th').text() === '/desk');
  expect(
    row
      .find('td')
      .map((_, cell) => page(cell).text().trim())
      .get()
      .slice(0, 4),
  ).toEqual(['→ /in', 'shown', 'shown', '403']);
  // A press on a cell opens why, without script.
  const why = page(`#${row.find('button').first().attr('popovertarget') ?? ''}`);
  expect(why.attr('popover')).toBeDefined();
  expect(why.text().replace(/\s+/g, ' ')).toMatch(
    /GET \/desk For clerk, as the page says\. line 6 guest → \/in \(guest\)\. To get in: log in, and hold clerk/,
  );
  expect(page('#L6').text()).toMatch(/^pages:/);
  expect(said(page, 'landings')).toMatch(/clerk login \/desk/);
  expect(said(page, 'lives')).toMatch(/session cookie, after the copy 8h ann logs in, a thief copies/);
  expect(said(page, 'states')).toMatch(/signed in.*30m \(session\.idle\): idle-expired/);
  expect(said(page, 'walks')).toMatch(/✓ Ann at her desk.*POST \/in 200, seen as ann: served/);
  expect(said(page, 'laws')).toMatch(/✓ Nothing from before a logout opens anything after it\./);
  expect(said(page, 'uncovered')).toMatch(
    /touch 7 of 56 things.* 12 %.*\/safe: asked for by a guest, ann, bo, cy line \d+/,
  );
  // Everything that leads anywhere leads into the page itself.
  for (const link of page('a').get()) {
    const target = page(link).attr('href') ?? '';
    expect([target, page(target).length]).toEqual([target, 1]);
  }
  const ids = page('[id]')
    .map((_, each) => page(each).attr('id'))
    .get();
  expect(new Set(ids).size).toBe(ids.length);
});

test('what is wrong comes first: broken laws with their walk, findings with their line, walks that fail', () => {
  place.put('cavrin.yaml', policyText({ logout: 'logout: { submit: POST /out, ends: [] }' }));
  place.put('walks.yaml', 'walks: [{ name: Wrong, steps: [{ login: ann, lands: /safe }] }]');
  const { status, out } = place.run(['report']);
  expect(status).toBe(1);
  const page = load(out);
  expect(said(page, 'verdict')).toMatch(
    /3 things are wrong\. logout-final is broken: a copy of the session cookie still counts after the logout\.logout-ends-too-little: .*The walk Wrong does not come out as it says\./,
  );
  expect(said(page, 'laws')).toMatch(/✗ broken: logout-final.* login ann .* logout/);
  expect(page('#laws details[open] svg text').text()).toContain('login ann');
  expect(said(page, 'findings')).toMatch(/error: logout-ends-too-little line 10/);
  expect(page('#walks details[open]').text()).toContain('expects lands /safe; it was /desk');
});

test('has what a run against the real app found', () => {
  place.put('cavrin.yaml', TOKENS);
  const showing = {
    ...{
      walk: 'Ann',
      step: 2,
      file: 'walks.yaml',
      line: 3,
      column: 1,
      action: 'visit /safe',
      browser: 'browser',
    },
    ...{ driver: 'http', differences: [], policyMessages: [], appMessages: [], follow: [] },
  };
  const live = {
    ...{ format: 'cavrin/live', version: 1, app: 'Test', at: 'http://127.0.0.1:3000', policy: 'cavrin.yaml' },
    findings: [
      {
        class: 'opens',
        title: 'GET /safe is open',
        place: null,
        accepted: null,
        describedBy: null,
        first: showing,
        also: [],
      },
    ],
    walks: [],
    notJudged: [],
    totals: { findings: 1, accepted: 0, walks: 4, steps: 9, notPlayed: 0, requests: 20 },
  };
  place.put('live.json', JSON.stringify(live));
  const { status, out } = place.run(['report', '--live', 'live.json', '--output', 'report.html']);
  expect([status, out]).toEqual([1, '']);
  const page = load(place.read('report.html'));
  expect(said(page, 'uncovered')).toMatch(
    /4 walks with 9 steps were played against http:.* 1 difference found\. GET \/safe is open/,
  );
  expect(said(page, 'verdict')).toContain('The running app differs: GET /safe is open.');
  place.put('odd.json', '{}');
  expect(place.run(['report', '--live', 'odd.json'])).toMatchObject({
    status: 2,
    out: '',
    err: expect.stringContaining('odd.json is no result of cavrin live') as string,
  });
  expect(place.run(['report', 'nowhere.yaml'])).toMatchObject({ status: 2, out: '' });
});

test('text of a policy stays text, and nothing is fetched', () => {
  const evil = '"><img src=//x.example/a onerror=alert(1)></svg></script><b>';
  place.put(
    'cavrin.yaml',
    TOKENS.replace('app: Test', `app: ${JSON.stringify(evil)} # ${evil}`).replace(
      '/hall: { for: signed-in }',
      `${JSON.stringify('/<b>&')}: {}`,
    ),
  );
  place.put(
    'walks.yaml',
    `walks: [{ name: ${JSON.stringify(evil)}, steps: [{ visit: /, in: ${JSON.stringify(evil)} }] }]`,
  );
  const { out } = place.run(['report']);
  const page = load(out);
  expect(page('img, b, iframe, link, object, script[src], [onerror], [style]').length).toBe(0);
  expect(page('script').length).toBe(1);
  expect(page('h1').text()).toBe(evil);
  expect(page('title').text()).toContain(evil);
  expect(page('ol.text').text()).toContain(evil);
  expect(page('meta[http-equiv]').attr('content')).toMatch(
    /^default-src 'none'; style-src 'sha256-[^']+'; script-src 'sha256-[^']+'; base-uri 'none'; form-action 'none'$/,
  );
});
