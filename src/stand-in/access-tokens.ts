import { compactVerify, exportJWK, generateKeyPair, SignJWT, type CryptoKey, type JWK } from 'jose';
import type { Seconds } from '../core/internal.js';

/** What an access token says besides its own id. */
export interface TokenClaims {
  readonly account: string;
  readonly roles: ReadonlySet<string>;
  readonly secondFactor: boolean;
}

/** Tokens that were verified lately and need no second look. */
const MOST_KNOWN = 5000;
const ALGORITHM = 'ES256';
const KEY_ID = 'stand-in';

/** Access tokens as signed JWTs (RFC 7519, in the form of RFC 9068), with a key that is made at each start. */
export class AccessTokens {
  private readonly verifiedLately = new Map<string, string>();

  private constructor(
    private readonly issuer: () => string,
    private readonly key: CryptoKey,
    private readonly publicKey: CryptoKey,
    /** The key set to verify tokens with (RFC 7517 §5). */
    readonly keySet: { readonly keys: readonly JWK[] },
  ) {}

  static async create(issuer: () => string): Promise<AccessTokens> {
    const { privateKey, publicKey } = await generateKeyPair(ALGORITHM);
    const jwk = { ...(await exportJWK(publicKey)), kid: KEY_ID, alg: ALGORITHM, use: 'sig' };
    return new AccessTokens(issuer, privateKey, publicKey, { keys: [jwk] });
  }

  /**
   * Signs a token (RFC 9068 §2.2).
   *
   * @param id what tells it from every other (RFC 7519 §4.1.7)
   * @param issuedAt seconds since 1970
   */
  async sign(id: string, claims: TokenClaims, issuedAt: Seconds, life: Seconds): Promise<string> {
    const { account, roles, secondFactor } = claims;
    return new SignJWT({
      roles: [...roles],
      client_id: 'stand-in',
      ...(secondFactor ? { amr: ['otp'] } : {}),
    })
      .setProtectedHeader({ alg: ALGORITHM, typ: 'at+jwt', kid: KEY_ID })
      .setIssuer(this.issuer())
      .setAudience(this.issuer())
      .setSubject(account)
      .setJti(id)
      .setIssuedAt(issuedAt)
      .setExpirationTime(issuedAt + life)
      .sign(this.key);
  }

  /** The id in a token that was signed here; empty for any other. Whether its time is over is for the app to judge. */
  async open(token: string): Promise<string> {
    const id = this.verifiedLately.get(token) ?? (await this.verified(token));
    if (id !== '') {
      if (this.verifiedLately.size >= MOST_KNOWN) this.verifiedLately.clear();
      this.verifiedLately.set(token, id);
    }
    return id;
  }

  private async verified(token: string): Promise<string> {
    try {
      // RFC 8725 §3.1 and §3.11: one algorithm, and a type that nothing else has.
      const options = { algorithms: [ALGORITHM] };
      const { payload, protectedHeader } = await compactVerify(token, this.publicKey, options);
      const { jti } = JSON.parse(new TextDecoder().decode(payload)) as { readonly jti?: unknown };
      return protectedHeader.typ === 'at+jwt' && typeof jti === 'string' ? jti : '';
    } catch {
      return '';
    }
  }
}
