// A client of identity providers on a package that many apps use, in a process of its own, since that is an ES module only.
// Usage: node relying-party.mjs ISSUER: what it sees of a provider that runs there. Without an issuer it starts a provider of
// another package, and tells which answers an app takes whose checks are on or left out. It prints JSON.
import { createServer } from 'node:http';
import { createRemoteJWKSet, jwtVerify } from 'jose';
import * as oidc from 'openid-client';
import Provider from 'oidc-provider';
import { CookieJar } from 'tough-cookie';

// The provider speaks of its defaults where the answer goes.
console.info = console.error;

const CLIENT = 'probe';
const BACK = 'http://127.0.0.1:9/back';

/** Opens an address as a browser does, names somebody in each form, and gives the address at which the client is called back. */
async function answerFor(address, person, jar = new CookieJar(), forms = []) {
  let next = { address: String(address), body: undefined };
  for (let hops = 0; hops < 20; hops += 1) {
    const { address: at, body } = next;
    if (at.startsWith(BACK)) return { at: new URL(at), forms };
    const headers = { cookie: await jar.getCookieString(at.replace('http:', 'https:')) };
    const answer = await fetch(at, {
      method: body === undefined ? 'GET' : 'POST',
      body,
      headers,
      redirect: 'manual',
    });
    for (const each of answer.headers.getSetCookie())
      await jar.setCookie(each, at.replace('http:', 'https:'), { loose: true });
    const location = answer.headers.get('location');
    if (location !== null) {
      next = { address: String(new URL(location, at)), body: undefined };
      continue;
    }
    const page = await answer.text();
    const form = /<form[\s\S]*?<\/form>/.exec(page)?.[0];
    if (answer.status !== 200 || form === undefined) return { at: null, status: answer.status, page, forms };
    forms.push(at);
    const fields = new URLSearchParams();
    for (const [input] of form.matchAll(/<input[^>]*>/g)) {
      const name = /name="([^"]*)"/.exec(input)?.[1];
      const value = /value="([^"]*)"/.exec(input)?.[1];
      if (name !== undefined) fields.set(name, value?.replaceAll('&amp;', '&') ?? person);
    }
    const action = /<form[^>]*action="([^"]*)"/.exec(form)?.[1] ?? at;
    next = { address: String(new URL(action, at)), body: fields };
  }
  throw new Error(`no end of redirects from ${address}`);
}

const discover = (issuer) =>
  oidc.discovery(new URL(issuer), CLIENT, undefined, oidc.None(), {
    execute: [oidc.allowInsecureRequests, oidc.enableNonRepudiationChecks],
  });

/** What a client asks a provider for, and what it keeps to hold the answer against. */
async function request(config, { state = 'checked', pkce = true, nonce = 'checked' } = {}) {
  const kept = {
    state: oidc.randomState(),
    nonce: oidc.randomNonce(),
    verifier: oidc.randomPKCECodeVerifier(),
  };
  const challenge = await oidc.calculatePKCECodeChallenge(kept.verifier);
  const to = oidc.buildAuthorizationUrl(config, {
    redirect_uri: BACK,
    scope: 'openid email',
    ...(state === 'absent' ? {} : { state: kept.state }),
    ...(nonce === 'absent' ? {} : { nonce: kept.nonce }),
    ...(pkce ? { code_challenge: challenge, code_challenge_method: 'S256' } : {}),
  });
  return { kept, to };
}

function take(config, at, kept, { state = 'checked', pkce = true, nonce = 'checked' } = {}) {
  return oidc.authorizationCodeGrant(config, at, {
    expectedState: state === 'ignored' ? oidc.skipStateCheck : state === 'checked' ? kept?.state : undefined,
    pkceCodeVerifier: pkce ? kept?.verifier : undefined,
    expectedNonce: nonce === 'checked' ? kept?.nonce : undefined,
  });
}

/** Why a promise fails, in the words of the standard's error or of the package; null where it does not. */
const failure = (promise) =>
  promise.then(
    () => null,
    (error) => String(error.error ?? error.cause?.message ?? error.message),
  );

/** All that a client does with a provider, from its discovery document to the logout. */
async function visit(issuer) {
  const config = await discover(issuer);
  const jar = new CookieJar();
  const { kept, to } = await request(config);
  const first = await answerFor(to, 'ann', jar);
  const tokens = await take(config, first.at, kept);
  const claims = tokens.claims();
  const keys = createRemoteJWKSet(new URL(config.serverMetadata().jwks_uri));
  const verified = await jwtVerify(tokens.id_token, keys, { issuer, audience: CLIENT });
  const again = await request(config);
  const known = await answerFor(again.to, 'nobody', jar);
  const usedTwice = await failure(
    take(config, known.at, again.kept).then(() => take(config, known.at, again.kept)),
  );
  const other = await request(config);
  const otherAnswer = await answerFor(other.to, 'ann', jar);
  const end = oidc.buildEndSessionUrl(config, {
    post_logout_redirect_uri: BACK,
    id_token_hint: tokens.id_token,
  });
  const left = await answerFor(end, 'ann', jar);
  const after = await request(config);
  const asked = await answerFor(after.to, 'bo', jar);
  return {
    claims: {
      ...claims,
      isVerified: verified.payload.sub === claims.sub,
      hasNonce: claims.nonce === kept.nonce,
    },
    userInfo: await oidc.fetchUserInfo(config, tokens.access_token, claims.sub),
    forms: { first: first.forms.length, known: known.forms.length, afterLogout: asked.forms.length },
    isBackAfterLogout: left.at !== null,
    another: (await take(config, asked.at, after.kept)).claims().sub !== claims.sub,
    refused: {
      usedTwice,
      otherVerifier: await failure(take(config, otherAnswer.at, { ...other.kept, verifier: kept.verifier })),
      otherAddress: (
        await answerFor(String(to).replace(encodeURIComponent(BACK), 'https%3A%2F%2Fevil.example%2F'), 'ann')
      ).status,
      noToken: await failure(oidc.fetchUserInfo(config, 'made-up', claims.sub)),
    },
  };
}

/** Which answers an app takes from a provider that neither of them wrote, by the checks that the app makes. */
async function answersTaken() {
  const server = createServer();
  await new Promise((settle) => server.listen(0, '127.0.0.1', settle));
  const issuer = `http://127.0.0.1:${server.address().port}`;
  const provider = new Provider(issuer, {
    clients: [
      {
        client_id: CLIENT,
        redirect_uris: [BACK],
        token_endpoint_auth_method: 'none',
        grant_types: ['authorization_code'],
      },
    ],
    pkce: { required: () => false },
    findAccount: (_context, accountId) => ({ accountId, claims: () => ({ sub: accountId }) }),
  });
  server.on('request', provider.callback());
  const config = await discover(issuer);
  const rows = [];
  for (const state of ['checked', 'ignored', 'absent']) {
    for (const pkce of [true, false]) {
      for (const nonce of ['checked', 'absent']) {
        const checks = { state, pkce, nonce };
        const mine = await request(config, checks);
        const own = await failure(take(config, (await answerFor(mine.to, 'ann')).at, mine.kept, checks));
        const planted = async (kept) => {
          const theirs = await request(config, checks);
          return failure(take(config, (await answerFor(theirs.to, 'bo')).at, kept, checks));
        };
        const begun = await planted((await request(config, checks)).kept);
        const fresh = await planted(null);
        rows.push({ ...checks, own: own === null, begun: begun === null, fresh: fresh === null });
      }
    }
  }
  server.closeAllConnections();
  server.close();
  return rows;
}

const [issuer] = process.argv.slice(2);
process.stdout.write(JSON.stringify(issuer === undefined ? await answersTaken() : await visit(issuer)));
