import { coverageFormat } from '../../src/render/coverage/coverage-json';
import { policyText } from '../support/policies';
import { Workplace } from '../support/program';

let place: Workplace;
beforeEach(() => {
  place = new Workplace();
  place.put('cavrin.yaml', policyText());
  place.put(
    'walks/first.yaml',
    'walks: [{ name: x, steps: [{ login: ann }, { visit: /safe, status: 403 }] }]\n',
  );
});
afterEach(() => {
  place.remove();
});

describe('cavrin coverage', () => {
  test('counts, and names what is not touched with its line', () => {
    const { status, out } = place.run(['coverage']);
    expect(status).toBe(0);
    expect(out).toMatch(/what +touched by 1 walk +share\npages +3 of 20 +15 %\n/);
    expect(out).toMatch(/No walk touches: pages\n +line 6 +\/: asked for by a guest, ann, bo, cy\n/);
    expect(out).toMatch(/ {2}line 8 +login\.attempts\.pause: just before 5m; just past 5m\n/);
  });

  test('has each form', () => {
    const json = coverageFormat.parse(JSON.parse(place.run(['coverage', '--format', 'json']).out));
    expect(json.totals).toEqual({ walks: 1, all: 49, touched: 6 });
    expect(place.run(['coverage', '--format', 'markdown']).out).toMatch(
      /^### 1 walk of Test touches 12 % of the policy\n[^]*\| pages \| 3 of 20 \| 15 % \|\n[^]*<summary>43 that no walk touches/,
    );
    // Of what stands on a line the least touched counts: the pages share one here.
    const lcov = place.run(['coverage', '--format', 'lcov']).out;
    expect(lcov).toMatch(/^TN:\nSF:cavrin\.yaml\n(?:DA:\d+,\d+\n)+LF:\d+\nLH:\d+\nend_of_record\n$/);
    expect(lcov).toContain('DA:6,0\n');
  });

  test('fails below a share, and takes it as people write it', () => {
    expect(place.run(['coverage', '--at-least', '12%']).status).toBe(0);
    const { status, err } = place.run(['coverage', '--at-least', '12.5']);
    expect([status, err]).toEqual([1, '12 % of the policy is touched, and 12.5 % are asked for\n']);
    expect(place.run(['coverage', '--at-least', '101%'])).toMatchObject({
      status: 2,
      err: expect.stringContaining('give a share such as 90%') as string,
    });
  });

  test('proposes walks that are played with the others, and touch all', () => {
    const { err } = place.run(['coverage', '--propose', 'walks/more.yaml']);
    expect(err).toMatch(/^wrote \d+ walks to walks\/more\.yaml; with them 100 % is touched\n$/);
    expect(place.read('walks/more.yaml')).toMatch(/^# Walks that touch[^]*- name: "To confirm: /);
    expect(place.run(['coverage', '--at-least', '100%']).status).toBe(0);
    expect(place.run(['walk']).status).toBe(0);
    expect(place.run(['coverage', '--propose', 'nowhere/x.yaml']).status).toBe(2);
  });

  test('reads no policy that is wrong', () => {
    place.put('cavrin.yaml', policyText({ landing: 'landing: [{ role: nobody, to: / }]' }));
    expect(place.run(['coverage'])).toMatchObject({ status: 2, out: '' });
  });
});
