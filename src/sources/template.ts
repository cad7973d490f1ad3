/** What stands for one segment in the lists and descriptions of others: `{id}`, `<int:id>`, `[id]`, `:id`, `:id(\\d+)`, `:id?`. */
const PARAMETER = /^(?::([\w-]+)(?:\([^)]*\))?\??|\{([^{}]+)\}|<(?:[\w.]+:)?([\w-]+)>|\[([\w-]+)\])$/;

/** A pattern of the language for a path as others write it, and what of it could not be kept; null for what is no path. */
export function patternOfTemplate(
  path: string,
): { readonly pattern: string; readonly guess: string | null } | null {
  const [plain = ''] = path.trim().split(/[?#]/, 1);
  if (!plain.startsWith('/')) return null;
  const parts = plain
    .replace(/\/+$/, '')
    .split('/')
    .slice(1)
    .filter((part) => part !== '');
  const used = new Map<string, number>();
  let guess: string | null = null;
  const patterns = parts.map((part, at) => {
    const isLast = at === parts.length - 1;
    if (isLast && /^(?:\*\*|\*\w+|\{\*\w+\}|\[\.\.\.[\w-]+\]|<path:\w+>|:\w+\*|\(\.\*\))$/.test(part)) {
      return '**';
    }
    const found = PARAMETER.exec(part);
    const [, ...names] = found ?? [];
    const name = names.find((each: string | undefined) => each !== undefined);
    if (name !== undefined) {
      // A name of letters, as the language has them; the same twice is told apart by a number.
      const letters = name.replace(/[^\w-]+/g, '-').replace(/^[^A-Za-z]+/, '');
      const own = letters === '' ? 'id' : letters;
      const count = (used.get(own) ?? 0) + 1;
      used.set(own, count);
      return `:${own}${count === 1 ? '' : String(count)}`;
    }
    if (!/[{}<>[\]*]|^:/.test(part)) return part.replace(/\s/g, encodeURIComponent);
    guess = `that ${part} stands for any one segment`;
    return '*';
  });
  return { pattern: `/${patterns.join('/')}`, guess };
}
