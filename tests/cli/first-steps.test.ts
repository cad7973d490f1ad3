import { policyText } from '../support/policies';
import { Workplace } from '../support/program';

const GOOD_WALK = 'walks:\n  - name: Ann opens the desk\n    steps:\n      - { login: ann, lands: /desk }\n';
const BAD_WALK = 'walks:\n  - name: Ann opens the safe\n    steps:\n      - { login: ann, lands: /safe }\n';

let place: Workplace;
beforeEach(() => {
  place = new Workplace();
});
afterEach(() => {
  place.remove();
});
const put: Workplace['put'] = (name, content) => {
  place.put(name, content);
};
const cavrin: Workplace['run'] = (args, more) => place.run(args, more);

describe('what lies beside the policy', () => {
  test('walks below walks/, of both endings, and walks.yaml are read; a folder called walk is named', () => {
    put('cavrin.yaml', policyText());
    put('walks/a.yml', GOOD_WALK);
    put('walks/deep/er/b.yaml', GOOD_WALK);
    put('walks.yaml', GOOD_WALK);
    put('walk/c.yaml', BAD_WALK);
    const { status, out, err } = cavrin(['walk']);
    expect([status, out.includes('3 walks, 3 steps: all as expected')]).toEqual([0, true]);
    expect(err).toContain('walk lies beside the policy and is not read');
    expect(cavrin(['check']).out).toContain('5 pages, 0 rules, 3 walks');
  });
});

describe('--fail-on', () => {
  const ADVICE = policyText({ session: 'session: { idle: 30m }' });
  const WARNING = policyText({ session: null });
  test.each([
    [ADVICE, [], 0],
    [ADVICE, ['--fail-on', 'advice'], 1],
    [WARNING, [], 1],
    [WARNING, ['--fail-on', 'error'], 0],
  ])('%# ends with the status for the severity', (policy, options, status) => {
    put('cavrin.yaml', policy);
    expect(cavrin(['check', ...options]).status).toBe(status);
    expect(cavrin(['check', ...options]).out).not.toContain('nothing to report');
  });
});

describe('unusable input', () => {
  test.each([
    ['check', 'json'],
    ['check', 'sarif'],
    ['walk', 'json'],
    ['walk', 'junit'],
  ])('%s writes its document as %s all the same', (command, format) => {
    put('cavrin.yaml', policyText({ landing: 'landing: /x' }));
    const { status, out } = cavrin([command, '--format', format]);
    expect(status).toBe(2);
    expect(out).toContain('a list of landing entries');
    if (format === 'junit') expect(out).toContain('<error type="wrong-type"');
    else expect(() => JSON.parse(out) as unknown).not.toThrow();
  });
});

describe('where to begin', () => {
  test('the name alone points to init, or to the policy that is there', () => {
    expect(cavrin([])).toMatchObject({ status: 2, err: expect.stringContaining('cavrin init') as string });
    put('cavrin.yaml', policyText());
    expect(cavrin([]).err).toContain('cavrin check');
  });

  test.each([['-h'], ['help'], ['help', 'walk'], ['walk', '-h']])('%s %s helps', (...args) => {
    expect(cavrin(args)).toMatchObject({
      status: 0,
      out: expect.stringContaining('Usage: cavrin') as string,
    });
  });

  test('the demo opens a dozen walks and counts the rest', () => {
    const { status, out } = cavrin(['demo']);
    expect(status).toBe(0);
    expect(out.match(/^✓/gm)).toHaveLength(12);
    expect(out).toContain('and 64 walks more that come out as expected');
  });
});
