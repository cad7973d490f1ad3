import AjvDraft4 from 'ajv-draft-04';
import Ajv2020 from 'ajv/dist/2020';
import { XMLParser } from 'fast-xml-parser';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { parse } from 'yaml';
import { comparisonFormat, gridFormat, whyFormat } from '../../src/render/json-formats';
import { HARBOUR, policyText } from '../support/policies';
import { Workplace } from '../support/program';

let place: Workplace;
beforeEach(() => {
  place = new Workplace();
});
afterEach(() => {
  place.remove();
});

const ROOT = join(__dirname, '../..');
const json = (text: string) => JSON.parse(text) as unknown;

describe('cavrin grid', () => {
  test('shows where every login state lands, equal rows and columns once', () => {
    place.put('cavrin.yaml', policyText());
    const { status, out, err } = place.run(['grid']);
    expect([status, err]).toEqual([0, '']);
    expect(out).toMatch(/^page +guest +clerk +chief +role$/m);
    expect(out).toMatch(/^\/desk +→ \/in +shown +shown +403$/m);
    expect(out).toMatch(
      /also stands for: anybody idle-expired, absolute-expired, signed-out, suspended or removed/,
    );
    expect(out).toContain('5 rows, 9 login states');
    expect(place.run(['grid', '--accounts']).out).toMatch(/^page +guest +ann +bo +cy$/m);
  });

  test('fits 80 columns by tables of some columns each', () => {
    const { out } = place.run(['grid', join(HARBOUR, 'cavrin.yaml')], { env: { COLUMNS: '80' } });
    expect(Math.max(...out.split('\n').map((line) => line.length))).toBeLessThanOrEqual(80);
    expect(out.match(/^page /gm)?.length).toBeGreaterThan(1);
  });

  test('gives csv, json and markdown whole', () => {
    place.put(
      'cavrin.yaml',
      policyText({
        pages:
          'pages: { /: { for: everyone }, /in: { for: guests }, /desk: {}, /safe: {}, "/a|<b>": { for: everyone } }',
      }),
    );
    expect(place.run(['grid', '--format', 'csv']).out).toMatch(
      /^page,guest,role clerk,role chief,without a role,anybody idle-expired,.*\n\/,shown,/,
    );
    expect(gridFormat.parse(json(place.run(['grid', '--format', 'json']).out)).rows).toHaveLength(5);
    expect(place.run(['grid', '--format', 'markdown']).out).toContain(
      '| /a\\|%3Cb%3E |'.replace('%3Cb%3E', '&lt;b&gt;'),
    );
  });

  test('saves a table and holds itself against it', () => {
    place.put('cavrin.yaml', policyText());
    expect(place.run(['grid', '--save', 'agreed.csv']).status).toBe(0);
    expect(place.run(['grid', '--against', 'agreed.csv'])).toEqual({
      status: 0,
      out: '45 cells as agreed in agreed.csv\n',
      err: '',
    });
    place.put('cavrin.yaml', policyText().replace('/desk: { for: [clerk] }', '/desk: { for: signed-in }'));
    const changed = place.run(['grid', '--against', 'agreed.csv']);
    expect(changed.status).toBe(1);
    expect(changed.out).toContain('✗ without a role at /desk: agreed 403, now shown');
    const same = comparisonFormat.parse(
      json(place.run(['grid', '--against', 'agreed.csv', '--format', 'json']).out),
    );
    expect(same.differences).toEqual([
      { page: '/desk', state: 'without a role', agreed: '403', actual: 'shown' },
    ]);
    expect(place.run(['grid', '--against', 'agreed.csv', '--accept']).status).toBe(0);
    expect(place.run(['grid', '--against', 'agreed.csv'])).toMatchObject({ status: 0 });
    expect(place.run(['grid', '--accept'])).toMatchObject({ status: 2, out: '' });
  });

  test('a role or an account that the table does not have is a difference, whichever of them it has', () => {
    place.put('cavrin.yaml', policyText());
    for (const more of [[], ['--accounts']]) place.run(['grid', ...more, '--save', `by${more.length}.csv`]);
    place.put(
      'cavrin.yaml',
      policyText({ roles: 'roles: { clerk: [], chief: [clerk], idler: [] }' }).replace(
        'cy: {',
        'di: { password: d-4, roles: [idler] }, cy: {',
      ),
    );
    const [roles, accounts] = ['by0.csv', 'by1.csv'].map((table) => place.run(['grid', '--against', table]));
    expect(roles).toMatchObject({ status: 1 });
    expect(roles?.out).toContain('1 login state of the policy not in the table: role idler');
    expect(accounts).toMatchObject({ status: 1 });
    expect(accounts?.out).toContain('1 login state of the policy not in the table: di');
  });

  test('refuses a table it cannot use, with its line', () => {
    place.put('cavrin.yaml', policyText());
    place.put('agreed.csv', 'page,ann\n/desc,shown\n');
    const { status, out, err } = place.run(['grid', '--against', 'agreed.csv']);
    expect([status, out]).toEqual([2, '']);
    expect(err).toContain('agreed.csv:2:1');
    expect(err).toContain('did you mean /desk?');
    expect(place.run(['grid', '--against', 'nowhere.csv'])).toMatchObject({ status: 2, out: '' });
  });
});

describe('cavrin why', () => {
  test('tells what decides a request, and what would admit the visitor', () => {
    place.put(
      'cavrin.yaml',
      policyText({ rules: 'rules: [{ path: /x, for: clerk }, { path: /**, for: clerk }]' }),
    );
    const { status, out } = place.run(['why', 'GET /safe', '--as', 'ann', '--all']);
    expect(place.run(['why', '/safe']).out).toMatch(/^rules +1 rule for other paths is left out/m);
    expect(place.run(['why', '/nowhere']).out).not.toContain('log in');
    expect(status).toBe(0);
    expect(out).toMatch(/^rule 1 +no: \/x does not cover \/safe \(line \d+\)$/m);
    expect(out).toMatch(/^rule 2 +matches/m);
    expect(out).toMatch(/^audience +chief, as the page says/m);
    expect(out).toMatch(/^visitor +ann: holds clerk; known by a session$/m);
    expect(out).toMatch(/^outcome +role$/m);
    expect(out).toMatch(/^to get in +hold chief$/m);
    const told = whyFormat.parse(
      json(place.run(['why', '/safe', '--as', 'ann', '--state', 'idle-expired', '--format', 'json']).out),
    );
    expect(told).toMatchObject({
      admitted: 'idle-expired',
      lands: '/in?back=/safe',
      changes: [['log in', 'hold chief']],
    });
  });

  test.each([
    [['/safe', '--as', 'anne'], 'did you mean ann?'],
    [['/safe', '--as', 'ann', '--state', 'code-owed'], 'cannot bring ann into the state code-owed'],
    [['/safe', '--state', 'signed-out'], 'say whose'],
    [['safe'], 'safe is no request'],
    [['/safe', '--from', '10.0.0.0/8'], 'is no network address'],
  ])('%j', (args, message) => {
    place.put('cavrin.yaml', policyText());
    const { status, out, err } = place.run(['why', ...args]);
    expect([status, out]).toEqual([2, '']);
    expect(err).toContain(message);
  });

  test('shows nothing of a policy raw', () => {
    place.put('cavrin.yaml', policyText({ rules: 'rules: [{ matches: "^/\\u001b[2J", for: clerk }]' }));
    expect(place.run(['why', '/hall', '--as', 'ann']).out).not.toContain('\u001b');
  });
});

describe('cavrin init', () => {
  test('writes a starter that passes its own check and walks', () => {
    expect(place.run(['init', 'app'])).toMatchObject({ status: 0, err: '' });
    const cwd = join(place.folder, 'app');
    expect(place.run(['check'], { cwd })).toEqual({
      status: 0,
      out: '5 pages, 1 rule, 3 walks: nothing to report\n',
      err: '',
    });
    expect(place.run(['walk', '--quiet'], { cwd })).toMatchObject({
      status: 0,
      out: expect.stringContaining('all as expected') as string,
    });
  });

  test('never writes over anything, and writes nothing else then', () => {
    place.put('walks/first.yaml', 'mine');
    const { status, err } = place.run(['init']);
    expect([status, err]).toEqual([
      2,
      expect.stringContaining('walks/first.yaml: it is there already') as string,
    ]);
    expect(readdirSync(place.folder)).toEqual(['walks']);
    expect(readFileSync(join(place.folder, 'walks/first.yaml'), 'utf8')).toBe('mine');
  });
});

describe('cavrin schema', () => {
  const validator = (file: 'policy' | 'walks') => {
    const schema = json(place.run(['schema', file]).out) as object;
    return new Ajv2020({ strict: false }).compile(schema);
  };

  test('takes what the program takes', () => {
    const policy = validator('policy');
    const walks = validator('walks');
    for (const folder of ['harbour', 'starter']) {
      const own = join(ROOT, 'examples', folder);
      policy(parse(readFileSync(join(own, 'cavrin.yaml'), 'utf8')));
      expect(policy.errors).toBeNull();
      for (const name of readdirSync(join(own, 'walks'))) {
        walks(parse(readFileSync(join(own, 'walks', name), 'utf8')));
        expect(walks.errors).toBeNull();
      }
    }
  });

  test.each([
    'colour: red',
    'session: { idle: soon }',
    'otherwise: 5',
    'login: { page: /in, submit: GTE /in }',
    'session: { renews: always }',
  ])('refuses %s as the program does', (line) => {
    const text = `cavrin: 1\napp: x\norigin: https://a.example\n${line}\n`;
    expect(validator('policy')(parse(text))).toBe(false);
    place.put('cavrin.yaml', text);
    expect(place.run(['check']).status).toBe(2);
  });
});

describe('reports for other programs', () => {
  const sarifSchema = () =>
    json(
      readFileSync(
        join(ROOT, 'node_modules/@microsoft/jest-sarif/lib/schemas/sarif-2.1.0-rtm.5.json'),
        'utf8',
      ),
    ) as object;

  test('check as SARIF 2.1.0 keeps to the published schema, for findings and for bad input', () => {
    const valid = new AjvDraft4({ strict: false, validateFormats: false, unicodeRegExp: false }).compile(
      sarifSchema(),
    );
    for (const text of [
      policyText({ session: null, rules: 'rules: [{ path: /a, for: clerk }, { path: /a, for: chief }]' }),
      'cavrin: 1\n',
      policyText(),
    ]) {
      place.put('a folder/cavrin.yaml', text);
      const log = json(place.run(['check', 'a folder/cavrin.yaml', '--format', 'sarif']).out);
      valid(log);
      expect(valid.errors).toBeNull();
    }
    place.put('a folder/cavrin.yaml', policyText({ session: null }));
    expect(json(place.run(['check', 'a folder/cavrin.yaml', '--format', 'sarif']).out)).toMatchObject({
      version: '2.1.0',
      runs: [
        {
          results: [
            {
              ruleId: 'session-without-limit',
              level: 'warning',
              locations: [{ physicalLocation: { artifactLocation: { uri: 'a%20folder/cavrin.yaml' } } }],
            },
          ],
        },
      ],
    });
  });

  test('walk as JUnit XML counts, names and explains, whatever the names are', () => {
    place.put('cavrin.yaml', policyText());
    const name = 'A "name" & <more> \\u0007 ünïcode';
    place.put(
      'walks/a.yaml',
      `walks:\n  - name: "${name.replaceAll('"', '\\"')}"\n    steps: [{ login: ann, lands: /safe }]\n  - { name: Good, steps: [{ visit: /, lands: / }] }\n`,
    );
    const { status, out } = place.run(['walk', '--format', 'junit']);
    expect(status).toBe(1);
    const options = {
      ignoreAttributes: false,
      attributeNamePrefix: '',
      isArray: (tag: string) => tag === 'testcase' || tag === 'testsuite',
    };
    expect(new XMLParser(options).parse(out)).toMatchObject({
      testsuites: {
        tests: '2',
        failures: '1',
        testsuite: [
          {
            name: 'walks/a.yaml',
            tests: '2',
            testcase: [
              {
                name: 'A "name" & <more> \\u{7} ünïcode',
                failure: { message: expect.stringContaining('expects lands /safe; it was /desk') as string },
              },
              { name: 'Good' },
            ],
          },
        ],
      },
    });
  });
});
