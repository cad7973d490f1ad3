/**
 * Splits a command into its words: spaces part them, single and double quotes keep them together. There is no shell, so nothing
 * else has a meaning. Gives null where a quote is left open.
 */
export function commandWords(command: string): string[] | null {
  const words: string[] = [];
  const token = /\s*(?:(?<words>(?:[^\s'"]|'[^']*'|"[^"]*")+)|$)/gy;
  while (token.lastIndex < command.length) {
    const found = token.exec(command);
    if (found === null) return null;
    const word = found.groups?.['words'];
    if (word === undefined) break;
    words.push(
      word.replace(/'([^']*)'|"([^"]*)"/g, (_, single?: string, double?: string) => single ?? double ?? ''),
    );
  }
  return words;
}
