import { changed } from '../app/app.js';
import { ANOTHER_SITE } from '../http/site.js';
import type { IdentityProvider, Policy } from '../language/policy.js';
import { section, text } from '../language/text/schema-parts.js';
import { play } from '../play/stage.js';
import { withCode } from '../provider/provider.js';
import { PROVIDER_PATHS } from '../vocabulary/provider-paths.js';
import { personStep, type StepKind } from './step-kind.js';
import { checkProvider } from './walk-scope.js';
import { one } from './typed-form.js';

/** Logs out at an identity provider, and not at the app. */
export interface LogoutProvider {
  readonly verb: 'logout-provider';
  readonly provider: string;
}

export const logoutProvider = personStep<LogoutProvider, string>({
  verb: 'logout-provider',
  row: ['`logout-provider: port-id`', 'logs out at an identity provider, and not at the app'],
  typed: one('logout-provider port-id', 'provider'),
  traits: [],
  tried: ({ providers }) => providers.map(({ name }) => ({ verb: 'logout-provider', provider: name })),
  schema: () => text('the name of an identity provider'),
  read(name, at, scope) {
    const known = scope.policy?.providers.find((each) => each.name === name);
    if (known === undefined) checkProvider(name, name, at, scope);
    return { verb: 'logout-provider', provider: name };
  },
  deed({ app }, _here, { provider }) {
    const issuer = providerOf(app.policy, provider)?.issuer ?? '';
    return { deed: 'open', address: issuer + PROVIDER_PATHS.endSession };
  },
  unsaid({ before, played }, { provider }) {
    const isDone = played.state.providerSessions.some(
      ({ ended }, at) => ended && before.providerSessions[at]?.ended === false,
    );
    if (isDone) return null;
    return { what: `that somebody logs out at ${provider}`, success: [], actual: 'nobody was known there' };
  },
  words: ({ provider }) => `logout-provider ${provider}`,
  written: ({ provider }) => provider,
});

/** Opens a link with the answer that an identity provider gave to somebody else. */
export interface PlantAnswer {
  readonly verb: 'plant-answer';
  /** Who came in at the provider, in another browser. */
  readonly account: string;
  readonly provider: string;
}

export const plantAnswer: StepKind<PlantAnswer, { of: string; with: string }> = {
  verb: 'plant-answer',
  row: [
    '`plant-answer: { of: piet, with: port-id }`',
    'opens a link with the answer that an identity provider gave to somebody else, who did not follow it',
  ],
  typed: {
    usage: 'plant-answer of piet with port-id',
    form: /^of (?<of>\S+) with (?<with>\S+)$/,
    written: ({ of, with: provider }) => ({ of, with: provider }),
    places: [['=of'], ['account'], ['=with'], ['provider']],
  },
  traits: [],
  tried: ({ providers }) =>
    providers.flatMap(({ name, knows }) => {
      const [of] = knows.keys();
      return of === undefined ? [] : [{ verb: 'plant-answer', account: of, provider: name }];
    }),
  plants: ({ account, provider }) => ({ account, provider }),
  by: 'person',
  schema: () =>
    section('a plant-answer step', {
      of: text('whom the provider knows'),
      with: text('the name of an identity provider'),
    }),
  read({ of: name, with: provider }, at, scope) {
    checkProvider(provider, name, at, scope);
    return { verb: 'plant-answer', account: name, provider };
  },
  play(stage, { state, browser, clock }, { account, provider: name }) {
    const provider = providerOf(stage.app.policy, name);
    if (provider === undefined) return `there is no identity provider ${name}`;
    // Whoever plants it was sent there by the app themselves.
    const asked = [...state.asked, { provider: name, back: null }];
    const began = changed(state, { asked });
    const given = withCode(stage.app.policy, provider, began, account, asked.length - 1);
    const deed = { deed: 'open', address: given.address, from: ANOTHER_SITE } as const;
    return { played: play(stage, given.state, browser, deed, clock), given: null };
  },
  words: ({ account, provider }) => `plant-answer of ${account} with ${provider}`,
  written: ({ account, provider }) => ({ of: account, with: provider }),
};

function providerOf({ providers }: Policy, name: string): IdentityProvider | undefined {
  return providers.find((each) => each.name === name);
}
