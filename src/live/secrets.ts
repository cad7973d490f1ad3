/** What must never be seen in an output: passwords, cookies and tokens. A run tells it all that it comes across. */
export class Secrets {
  private readonly known = new Set<string>();

  /** Shorter ones are in every word. */
  static readonly SHORTEST = 4;

  add(secret: string | null | undefined): void {
    if (secret === null || secret === undefined || secret.length < Secrets.SHORTEST) return;
    this.known.add(secret);
    for (const form of [encodeURIComponent(secret), decoded(secret)]) {
      if (form.length >= Secrets.SHORTEST) this.known.add(form);
    }
  }

  /** The same text with every secret cut out of it, the longest first. */
  cut(text: string): string {
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
