import { loadRegularLanguages } from '../../../src/core/paths/regular-language';
import { faults, policyText } from '../../support/policies';

beforeAll(loadRegularLanguages);

describe('bad walks', () => {
  const walk = (step: string) => `walks:\n  - name: x\n    steps:\n      - ${step}\n`;

  test.each([
    ['unknown-key 4:11', '{ vist: / }'],
    ['bad-value 4:21', '{ together: [GET /a] }'],
    ['bad-value 4:21', '{ together: [GET /a, GET /b, GET /c, GET /d] }'],
    ['bad-value 4:21', '{ reload: , from: https://mail.example }'],
    ['bad-value 4:27', '{ visit: /, from: mail }'],
    ['unknown-page-path 4:31', '{ visit: /, reaches: [/desc] }'],
    ['cannot-be-expected 4:25', '{ suspend: ann, lands: / }'],
    ['missing-section 4:39', '{ login: { as: ann, remember: true } }'],
    ['bad-value 4:28', '{ visit: /, shows: [] }'],
    ['unknown-link 4:19', '{ follow: /nowhere }'],
    ['unknown-part 4:28', '{ visit: /, shows: assing }'],
    ['unknown-part 4:28', '{ visit: /, hides: [assing, /] }'],
    ['unknown-account 4:28', '{ set-facts: { as: bob, facts: { a: b } } }'],
    ['bad-value 4:45', "{ set-facts: { as: ann, facts: { a: ':b' } } }"],
    ['unknown-flag 4:23', '{ set-flag: { sale: on } }'],
    ['wrong-type 4:29', '{ set-flag: { sale: maybe } }'],
    ['missing-section 4:11', '{ code: right }'],
    ['bad-value 4:36', '{ visit: /, connects-from: 10.0.0.0/8 }'],
    ['unknown-role 4:35', '{ login: { as: ann, role: boss } }'],
    ['unknown-login 4:33', '{ login: { as: ann, at: office } }'],
    ['missing-section 4:11', '{ change-password: { new: b } }'],
    ['missing-section 4:11', '{ ask-reset: ann }'],
    ['missing-section 4:11', '{ reset: { as: ann, password: b } }'],
    ['missing-section 4:11', '{ ask-link: ann }'],
    ['unknown-provider 4:28', '{ logout-provider: port-id }'],
    ['unknown-provider 4:42', '{ plant-answer: { of: ann, with: port-id } }'],
    ['unknown-provider 4:35', '{ login: { as: ann, with: port-id } }'],
    ['missing-section 4:11', '{ open-link: ann }'],
    ['no-step 4:9', '{ lands: / }'],
    ['two-steps 4:9', '{ visit: /, logout: }'],
    ['unknown-account 4:18', '{ login: bob }'],
    ['unknown-account 4:24', '{ login: { as: bob } }'],
    ['unknown-account 4:30', '{ visit: /, seen-as: bob }'],
    ['bad-value 4:17', '{ wait: -5m }'],
    ['bad-value 4:17', '{ wait: 9999999d }'],
    ['wrong-type 4:17', '{ wait: 5 }'],
    ['bad-value 4:17', '{ wait: { } }'],
    ['no-deadline 4:25', '{ wait: { past: access-expiry } }'],
    ['no-deadline 4:25', '{ wait: { past: remember-expiry } }'],
    ['no-deadline 4:25', '{ wait: { past: code-expiry } }'],
    ['cannot-be-expected 4:21', '{ wait: 5m, lands: / }'],
    ['bad-path 4:18', '{ visit: berths }'],
    ['bad-path 4:18', '{ visit: "http://[" }'],
    ['bad-value 4:17', '{ send: GET x }'],
    ['bad-value 4:29', '{ visit: /, status: 2000 }'],
    ['wrong-type 4:29', '{ visit: /, status: OK }'],
    ['wrong-type 4:9', 'visit'],
  ])('%s in %s', (expected, step) => {
    expect(faults(policyText(), [walk(step)])).toEqual([expected]);
  });

  test('names are looked at in the steps that have their form, too', () => {
    expect(faults(policyText(), [`${walk('{ vist: / }')}      - { login: bob }\n`])).toEqual([
      'unknown-key 4:11',
      'unknown-account 5:18',
    ]);
  });

  test('walks in the policy itself are read alike', () => {
    expect(faults(`${policyText()}\n${walk('{ login: bob }')}`)).toEqual([
      expect.stringMatching(/^unknown-account \d+:18$/),
    ]);
  });

  test('logging in asks for a policy with a login', () => {
    const closed = policyText({ login: null, logout: null });
    expect(faults(closed, [walk('{ login: ann }')])).toEqual(['missing-section 4:11']);
    expect(faults(closed, [walk('{ logout: }')])).toEqual(['missing-section 4:11']);
  });

  test('a file of walks must have walks', () => {
    expect(faults(policyText(), [''])).toEqual(['empty-file 1:1']);
    expect(faults(policyText(), ['cavrin: 1'])).toEqual(expect.arrayContaining(['missing-key 1:1']));
  });
});
