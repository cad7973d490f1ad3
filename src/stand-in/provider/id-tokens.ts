import { exportJWK, generateKeyPair, SignJWT, type CryptoKey, type JWK } from 'jose';

const ALGORITHM = 'ES256';
const KEY_ID = 'provider';

/** What an ID token says of somebody. */
export interface IdClaims {
  readonly sub: string;
  readonly email: string;
  readonly email_verified: boolean;
  readonly nonce: string | null;
  /** The client that it is for. */
  readonly aud: string;
}

/** ID tokens as signed JWTs (OpenID Connect Core §2), with a key that is made at each start. */
export class IdTokens {
  private constructor(
    private readonly issuer: () => string,
    private readonly key: CryptoKey,
    /** The key set to verify them with (RFC 7517 §5). */
    readonly keySet: { readonly keys: readonly JWK[] },
  ) {}

  static async create(issuer: () => string): Promise<IdTokens> {
    const { privateKey, publicKey } = await generateKeyPair(ALGORITHM);
    const jwk = { ...(await exportJWK(publicKey)), kid: KEY_ID, alg: ALGORITHM, use: 'sig' };
    return new IdTokens(issuer, privateKey, { keys: [jwk] });
  }

  /** Signs a token of five minutes. Clients judge it by their own clock, so it counts from the machine's. */
  async sign({ sub, email, email_verified, nonce, aud }: IdClaims): Promise<string> {
    const now = Math.floor(Date.now() / 1000);
    return new SignJWT({ email, email_verified, auth_time: now, ...(nonce === null ? {} : { nonce }) })
      .setProtectedHeader({ alg: ALGORITHM, kid: KEY_ID })
      .setIssuer(this.issuer())
      .setAudience(aud)
      .setSubject(sub)
      .setIssuedAt(now)
      .setExpirationTime(now + 300)
      .sign(this.key);
  }
}
