import { execFileSync } from 'node:child_process';
import { diffFormat } from '../../src/render/diff/diff-json';
import { policyText } from '../support/policies';
import { Workplace } from '../support/program';

let place: Workplace;
beforeEach(() => {
  place = new Workplace();
});
afterEach(() => {
  place.remove();
});

const json = (text: string) => JSON.parse(text) as unknown;

describe('cavrin diff', () => {
  test('tells what changed for whom, widened access apart', () => {
    place.put('old.yaml', policyText());
    place.put(
      'new.yaml',
      policyText()
        .replace('/desk: { for: [clerk] }', '/desk: { for: signed-in }')
        .replace('/hall: { for: signed-in }', '/hall: { for: [chief] }'),
    );
    const { status, out } = place.run(['diff', 'old.yaml', 'new.yaml']);
    expect(status).toBe(1);
    expect(out).toMatch(
      /Access widened[^]*without a role at \/desk: was 403, now shown[^]*Access narrowed[^]*role clerk, without a role at \/hall: was shown, now 403/,
    );
    expect(
      diffFormat.parse(json(place.run(['diff', 'old.yaml', 'new.yaml', '--format', 'json']).out)).changes,
    ).toHaveLength(3);
    expect(place.run(['diff', 'old.yaml', 'old.yaml'])).toMatchObject({
      status: 0,
      out: expect.stringContaining('no change') as string,
    });
  });

  test('names the line of a landing by whatever key it is written', () => {
    const text = (landing: string, lands: string) =>
      policyText({
        landing: `landing: [{ otherwise: ${landing} }]`,
        logout: `logout: { submit: POST /out, lands: ${lands} }`,
      });
    place.put('old.yaml', text('/', '/'));
    place.put('new.yaml', text('/hall', '/in'));
    const { out } = place.run(['diff', 'old.yaml', 'new.yaml', '--no-proof']);
    expect(out).toMatch(/changes +landing for whoever is left: was \/ \(line \d+\), now \/hall \(line \d+\)/);
    expect(out).toMatch(/after the logout for whoever is left: was \/ \(line \d+\), now \/in \(line \d+\)/);
  });

  test('tells settings, laws, bounds and findings that are otherwise, in each form', () => {
    const login =
      'login: { page: /in, submit: POST /in, by: both, attempts: { most: 5, within: 5m, pause: 5m } }';
    const text = (life: string, idle: string) =>
      policyText({
        pages:
          'pages: { /: { for: everyone }, /in: { for: guests }, /desk: {}, /safe: {}, /api/x: { for: signed-in, kind: api } }',
        login,
        session: `session: { idle: ${idle}, absolute: 8h }`,
        more: `tokens: { access: { life: ${life}, leeway: 0s }, submit: POST /token }\npromises: [{ after: logout, copied: access, works-at-most: 5m }]`,
      });
    place.put('old.yaml', text('5m', '30m'));
    place.put('new.yaml', text('1h', '15m'));
    const { status, out } = place.run(['diff', 'old.yaml', 'new.yaml', '--no-cache']);
    expect(status).toBe(1);
    expect(out).not.toContain('Access widened');
    expect(out).toMatch(/loosens +tokens\.access\.life: was 5m \(line 12\), now 1h \(line 12\)/);
    expect(out).toMatch(/tightens +session\.idle: was 30m \(line 11\), now 15m \(line 11\)/);
    expect(out).toMatch(
      /loosens +logout-final held, is broken now\n +a copy of the access token .*: login ann, logout, wait 5m/,
    );
    expect(out).toMatch(/loosens +access token, after the logout: was 5m, now 1h/);
    const run = (...more: string[]) => place.run(['diff', 'old.yaml', 'new.yaml', ...more]);
    expect(run('--no-proof', '--format', 'markdown').out).toMatch(
      /^### Something is loosened\n[^]*tokens\.access\.life[^]*<details>[^]*session\.idle[^]*<\/details>/,
    );
    expect(diffFormat.parse(json(run('--format', 'json').out))).toMatchObject({
      worst: 'loosened',
      bounds: expect.arrayContaining([
        { credential: 'access', since: 'logout', direction: 'loosens', before: 300, after: 3600 },
      ]) as unknown,
    });
    expect(run('--no-proof', '--fail-on', 'widened').status).toBe(0);
    expect(place.run(['diff', 'new.yaml', 'old.yaml', '--fail-on', 'loosened', '--no-proof']).status).toBe(1);
    place.put('shorter.yaml', text('5m', '15m'));
    expect(place.run(['diff', 'old.yaml', 'shorter.yaml', '--fail-on', 'loosened']).status).toBe(0);
    expect(place.run(['diff', 'old.yaml', 'shorter.yaml'])).toMatchObject({ status: 1 });
  });

  test('reads the policy of a revision through git', () => {
    const git = (...words: string[]) =>
      execFileSync('git', ['-c', 'user.email=a@app.example', '-c', 'user.name=A', ...words], {
        cwd: place.folder,
      });
    expect(place.run(['diff', 'git:main'])).toMatchObject({ status: 2, out: '' });
    git('init', '-q', '-b', 'main');
    place.put('cavrin.yaml', policyText());
    expect(place.run(['diff', 'git:main']).err).toContain('there is no revision main');
    git('add', '.');
    git('commit', '-q', '-m', 'First');
    place.put('cavrin.yaml', policyText().replace('idle: 30m', 'idle: 15m'));
    expect(place.run(['diff', 'git:main', '--no-proof'])).toMatchObject({
      status: 1,
      out: expect.stringMatching(/git:main:cavrin\.yaml → cavrin\.yaml[^]*tightens +session\.idle/) as string,
    });
    expect(place.run(['diff', 'git:main:cavrin.yaml', 'git:HEAD', '--no-proof']).status).toBe(0);
    expect(place.run(['diff', 'git:main:other.yaml']).err).toContain('main has no file other.yaml');
    expect(place.run(['diff', 'git:--help']).err).toContain('git: is followed by a revision');
  });

  test('reports what is wrong with either policy', () => {
    place.put('old.yaml', policyText());
    place.put('new.yaml', 'cavrin: 1\n');
    expect(place.run(['diff', 'old.yaml', 'new.yaml'])).toMatchObject({
      status: 2,
      out: '',
      err: expect.stringContaining('new.yaml') as string,
    });
    expect(place.run(['diff', 'old.yaml'])).toMatchObject({ status: 2, out: '' });
    expect(place.run(['diff'])).toMatchObject({ status: 2, out: '' });
  });
});
