import { join } from 'node:path';
import { doubtFormat } from '../../src/render/doubt/doubt-json';
import { HARBOUR, policyText } from '../support/policies';
import { Workplace } from '../support/program';

let place: Workplace;
beforeEach(() => {
  place = new Workplace();
  place.put(
    'cavrin.yaml',
    policyText({ landing: 'landing: [{ role: clerk, to: /desk }, { otherwise: / }]' }),
  );
  place.put(
    'walks/first.yaml',
    'walks: [{ name: x, steps: [{ login: ann, lands: /desk }, { visit: /safe, status: 403 }] }]\n',
  );
});
afterEach(() => {
  place.remove();
});

describe('cavrin doubt', () => {
  test('tells the score, and what nobody would notice with the walk that shows it', () => {
    const { status, out } = place.run(['doubt']);
    expect(status).toBe(0);
    expect(out).toMatch(
      /\n\d+ of \d+ mistakes would be noticed: \d+ %\nnoticed by: check \d+, walks \d+, laws and promises \d+\n/,
    );
    expect(out).toMatch(
      / {2}line 6 +pages \/hall for: it is for everyone\n +visit \/hall\n +was: \/in\?back=\/hall, seen as guest, guest\n +now: \/hall, seen as guest\n/,
    );
    // The walk sees it.
    expect(out).not.toContain('pages /safe for: it is for everybody who is signed in');
  });

  test('proposes walks by which all of that would be noticed', () => {
    const before = doubtFormat.parse(JSON.parse(place.run(['doubt', '--format', 'json']).out));
    const { err } = place.run(['doubt', '--propose', 'walks/more.yaml']);
    expect(err).toMatch(/^wrote \d+ walks to walks\/more\.yaml, for \d+ mistakes\n$/);
    expect(place.run(['walk']).status).toBe(0);
    const after = doubtFormat.parse(JSON.parse(place.run(['doubt', '--format', 'json']).out));
    const shown = before.mistakes.filter(({ walk }) => walk !== null).length;
    expect(shown).toBeGreaterThan(10);
    expect(after.totals.noticed).toBeGreaterThanOrEqual(before.totals.noticed + shown);
    expect(after.mistakes.filter(({ walk }) => walk !== null)).toEqual([]);
    expect(place.run(['doubt', '--at-least', '95%']).status).toBe(0);
  });

  test('leaves little of the harbour unnoticed: its own walks watch over it', () => {
    expect(place.run(['doubt', join(HARBOUR, 'cavrin.yaml'), '--at-least', '95%', '--quiet']).status).toBe(0);
  });

  test('looks at so many as there is time for, and says how many are left', () => {
    const { status, out } = place.run(['doubt', join(HARBOUR, 'cavrin.yaml'), '--most-time', '1s']);
    expect([status, out]).toEqual([
      3,
      expect.stringMatching(/\n\d+ changes more were not looked at in time\n/),
    ]);
  });

  test('has a table watch too, fails below a share, and is short in a review', () => {
    expect(place.run(['grid', '--save', 'agreed.csv']).status).toBe(0);
    const { out } = place.run(['doubt', '--against', 'agreed.csv', '--format', 'markdown']);
    expect(out).toMatch(
      /^### \d+ of \d+ mistakes in Test would be noticed: \d+ %\n\nNoticed by: check \d+, walks \d+, grid [1-9]\d*, laws and promises/,
    );
    expect(out).not.toContain('pages /hall for: it is for everyone');
    expect(place.run(['doubt', '--at-least', '100%'])).toMatchObject({
      status: 1,
      err: expect.stringMatching(
        /^\d+ % of the mistakes would be noticed, and 100 % are asked for\n$/,
      ) as string,
    });
    expect(place.run(['doubt', '--against', 'nothing.csv']).status).toBe(2);
    expect(place.run(['doubt', '--propose', 'nowhere/x.yaml']).status).toBe(2);
  });
});
