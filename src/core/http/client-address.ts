/** A range of client addresses: all that begin with the same bits (RFC 4632 §3.1, RFC 4291 §2.3). */
export interface ClientNetwork {
  /** As it was written. */
  readonly text: string;
  readonly family: 4 | 6;
  readonly bits: bigint;
  readonly prefix: number;
}

/** The address of a visitor of whom nothing else is said: one that RFC 5737 §3 keeps for documentation. */
export const SOME_CLIENT = '203.0.113.7';

/** Reads `10.0.0.0/8`, `2001:db8::/32` or a single address; null for what is neither. */
export function parseNetwork(text: string): ClientNetwork | null {
  const [address = '', length, ...more] = text.split('/');
  const read = parseAddress(address);
  if (read === null || more.length > 0) return null;
  const width = read.family === 4 ? 32 : 128;
  if (length === undefined) return { text, ...read, prefix: width };
  if (!/^\d{1,3}$/.test(length) || Number(length) > width) return null;
  const prefix = Number(length);
  const host = BigInt(width - prefix);
  return { text, family: read.family, bits: (read.bits >> host) << host, prefix };
}

/** Whether a client's address lies in a network. */
export function inNetwork(network: ClientNetwork, client: string): boolean {
  const address = parseAddress(client);
  if (address?.family !== network.family) return false;
  const host = BigInt((network.family === 4 ? 32 : 128) - network.prefix);
  return address.bits >> host === network.bits >> host;
}

/** The first address of a network and the last. */
export function endsOf({ family, bits, prefix }: ClientNetwork): readonly [first: string, last: string] {
  const rest = (1n << BigInt((family === 4 ? 32 : 128) - prefix)) - 1n;
  return [addressText(family, bits), addressText(family, bits | rest)];
}

/** Whether every address of a network lies in another. */
export function isWithin(inner: ClientNetwork, outer: ClientNetwork): boolean {
  if (inner.family !== outer.family || inner.prefix < outer.prefix) return false;
  const host = BigInt((outer.family === 4 ? 32 : 128) - outer.prefix);
  return inner.bits >> host === outer.bits >> host;
}

function parseAddress(text: string): { readonly family: 4 | 6; readonly bits: bigint } | null {
  const four = parseFour(text);
  if (four !== null) return { family: 4, bits: four };
  const six = parseSix(text);
  return six === null ? null : { family: 6, bits: six };
}

function parseFour(text: string): bigint | null {
  const parts = text.split('.');
  // A leading zero is octal to some readers and decimal to others, so it is refused.
  if (parts.length !== 4 || !parts.every((part) => /^(0|[1-9]\d{0,2})$/.test(part) && Number(part) < 256)) {
    return null;
  }
  return parts.reduce((bits, part) => (bits << 8n) | BigInt(part), 0n);
}

/** RFC 4291 §2.2: eight groups, of which `::` leaves out some that are zero. */
function parseSix(text: string): bigint | null {
  const halves = text.split('::');
  if (halves.length > 2 || !text.includes(':')) return null;
  const groups = halves.map((half) => (half === '' ? [] : half.split(':')));
  const written = groups.flat();
  if (!written.every((group) => /^[0-9a-f]{1,4}$/i.test(group))) return null;
  const left = 8 - written.length;
  if (halves.length === 1 ? left !== 0 : left < 1) return null;
  const [head = [], rest = []] = groups;
  return [...head, ...Array<string>(halves.length === 1 ? 0 : left).fill('0'), ...rest].reduce(
    (bits, group) => (bits << 16n) | BigInt(`0x${group}`),
    0n,
  );
}

/** Writes an address the way it is read, IPv6 in full. */
function addressText(family: 4 | 6, bits: bigint): string {
  const [width, size, count] = family === 4 ? [8n, 255n, 4] : [16n, 65_535n, 8];
  const groups = Array.from({ length: count }, (_, at) => (bits >> (width * BigInt(count - 1 - at))) & size);
  return groups.map((group) => group.toString(family === 4 ? 10 : 16)).join(family === 4 ? '.' : ':');
}

/** An address of a network that none of others has; null where they have it all. */
export function addressOutside(network: ClientNetwork, others: readonly ClientNetwork[]): string | null {
  const span = (each: ClientNetwork) => 1n << BigInt((each.family === 4 ? 32 : 128) - each.prefix);
  const end = network.bits + span(network);
  const taken = others
    .filter((other) => other.family === network.family && isWithin(other, network))
    .sort((a, b) => (a.bits < b.bits ? -1 : 1));
  let free = network.bits;
  for (const other of taken) {
    if (other.bits > free) break;
    const next = other.bits + span(other);
    if (next > free) free = next;
  }
  return free < end ? addressText(network.family, free) : null;
}
