/**
 * What must never be seen in an output: passwords, cookies and tokens. A run tells it all that it comes across. A secret that is
 * also a name, as where `admin` has the password `admin`, hides nothing.
 */
export class Secrets {
  private readonly known = new Set<string>();
  private readonly names = new Set<string>();

  /** Shorter ones are in every word. */
  static readonly SHORTEST = 4;

  add(secret: string | null | undefined): void {
    if (secret === null || secret === undefined || secret.length < Secrets.SHORTEST) return;
    if (this.names.has(secret)) return;
    this.known.add(secret);
    for (const form of [encodeURIComponent(secret), decoded(secret)]) {
      if (form.length >= Secrets.SHORTEST) this.known.add(form);
    }
  }

  /** A text that is shown, whether or not it is a secret besides. */
  addName(name: string): void {
    this.names.add(name);
    this.known.delete(name);
  }

  /** The same text with every secret cut out of it, the longest first. */
  cut(text: string): string {
    if (this.known.size === 0) return text;
    let cut = text;
    for (const secret of [...this.known].sort((a, b) => b.length - a.length)) {
      cut = cut.replaceAll(secret, '…');
    }
    return cut;
  }
}

function decoded(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}
