import { printable } from './style.js';

/**
 * Text of a policy stays text in Markdown, as GitHub reads it: no markup, HTML, link, mention or number of an issue, and no end
 * of a cell or line.
 */
export function markdownText(text: string): string {
  return printable(text)
    .replaceAll('&', '&amp;')
    .replaceAll('#', '&#35;')
    .replace(/[\\`*_[\]|~]/g, '\\$&')
    .replace(/^[-+]|^\d+(?=[.)])/, '$&&#8203;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('@', '&#64;')
    .replace(/:(?=\/\/)/g, '&#58;')
    .replace(/\bwww(?=\.)/gi, '$&&#8203;');
}

/** A block that is folded until somebody opens it; the title is Markdown already. */
export function folded(title: string, lines: readonly string[]): string[] {
  return lines.length === 0
    ? []
    : ['<details>', `<summary>${title}</summary>`, '', ...lines, '', '</details>', ''];
}

/** A heading in bold with a list below it; nothing where the list is empty. */
export function listed(title: string, lines: readonly string[]): string[] {
  return lines.length === 0 ? [] : [`**${title}**`, '', ...lines.map((line) => `- ${line}`), ''];
}
