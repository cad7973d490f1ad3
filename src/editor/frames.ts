/** A message of the base protocol (Language Server Protocol 3.17, Base Protocol), or why what came is none. */
export type Frame = { readonly value: unknown } | { readonly fault: string };

/** More than any text that is read, each of its characters escaped. */
const MOST_BYTES = 64 * 1024 * 1024;
const MOST_HEADER_BYTES = 4096;
const END = '\r\n\r\n';

/**
 * Takes messages out of bytes as they come. What is none is told once, and the next header is looked for: no text within a message
 * can be taken for one, since JSON escapes the ends of lines.
 */
export class Frames {
  private chunks: Buffer[] = [];
  private size = 0;
  /** The bytes of the message under way; null within a header. */
  private needed: number | null = null;
  /** Why the message under way is not taken. */
  private fault: string | null = null;
  private isLost = false;

  /** The messages that are whole once these bytes have come. */
  *add(chunk: Buffer): Generator<Frame> {
    this.chunks.push(chunk);
    this.size += chunk.length;
    for (;;) {
      if (this.needed === null) {
        const fault = this.readHeader();
        if (fault !== null) yield { fault };
      }
      const { needed } = this;
      if (needed === null || this.size < needed) return;
      const body = this.take(needed);
      this.needed = null;
      yield this.fault === null ? messageOf(body) : { fault: this.fault };
    }
  }

  /** Reads headers until one names a length, or more has to come; gives what is wrong with the first that does not. */
  private readHeader(): string | null {
    const bytes = this.take(this.size);
    let text = bytes.toString('latin1');
    let told: string | null = null;
    for (;;) {
      if (this.isLost) {
        const next = /content-length:/i.exec(text)?.index;
        text = next === undefined ? text.slice(-'content-length'.length) : text.slice(next);
        this.isLost = next === undefined;
      }
      const end = text.indexOf(END);
      const isTooLong = (end < 0 ? text.length : end) > MOST_HEADER_BYTES;
      if (this.isLost || (end < 0 && !isTooLong)) {
        this.putBack(text);
        return told;
      }
      const header = isTooLong ? TOO_LONG : headerOf(text.slice(0, end));
      if (typeof header !== 'string') {
        this.needed = header.length;
        this.fault = header.fault;
        this.putBack(text.slice(end + END.length));
        return told;
      }
      told ??= header;
      this.isLost = true;
      text = text.slice(1);
    }
  }

  private putBack(text: string): void {
    this.chunks = [Buffer.from(text, 'latin1')];
    this.size = text.length;
  }

  private take(many: number): Buffer {
    const [first = Buffer.alloc(0)] = this.chunks;
    const all = this.chunks.length === 1 ? first : Buffer.concat(this.chunks);
    this.chunks = [all.subarray(many)];
    this.size = all.length - many;
    return all.subarray(0, many);
  }
}

const TOO_LONG = `a header of more than ${MOST_HEADER_BYTES} bytes`;

/** The length that a header names, with why its message is not taken; a text where it names none. */
function headerOf(text: string): { readonly length: number; readonly fault: string | null } | string {
  const fields = new Map<string, string>();
  for (const line of text.split('\r\n')) {
    const [, name = '', value = ''] = /^([\w-]+):[ \t]*(.*)$/.exec(line) ?? [];
    fields.set(name.toLowerCase(), value.trim());
  }
  const length = fields.get('content-length') ?? '';
  if (!/^\d+$/.test(length)) return 'a header without a Content-Length in bytes';
  if (Number(length) > MOST_BYTES) return `a message of more than ${MOST_BYTES} bytes`;
  const [, charset = 'utf-8'] = /charset=["']?([^"';\s]*)/i.exec(fields.get('content-type') ?? '') ?? [];
  const isKnown = /^utf-?8$/i.test(charset);
  return { length: Number(length), fault: isKnown ? null : 'a message in another charset than utf-8' };
}

function messageOf(body: Buffer): Frame {
  try {
    return { value: JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(body)) };
  } catch {
    return { fault: 'a message that is no JSON in UTF-8' };
  }
}
