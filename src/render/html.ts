import { printable } from './style.js';

/** Text that is HTML already. */
export class Html {
  constructor(readonly text: string) {}
}

type Piece = string | number | Html | null | readonly Html[];

/** Most of what is put in: printable ASCII without a character of HTML's own. */
const HARMLESS = /^[ !#-%(-;=?-~]*$/;

const ESCAPES: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&#39;',
};

/** Text made harmless in HTML, in an attribute too; control characters are shown by their code points. */
export function escape(text: string): string {
  if (HARMLESS.test(text)) return text;
  return printable(text).replace(/[&<>"']/g, (character) => ESCAPES[character] ?? character);
}

/** Writes HTML; whatever is put in is escaped unless it is HTML itself. */
export function html(fixed: TemplateStringsArray, ...pieces: readonly Piece[]): Html {
  let text = fixed[0] ?? '';
  for (let at = 0; at < pieces.length; at++) text += pieceText(pieces[at] ?? null) + (fixed[at + 1] ?? '');
  return new Html(text);
}

function pieceText(piece: Piece): string {
  if (piece === null) return '';
  if (piece instanceof Html) return piece.text;
  if (typeof piece === 'string') return escape(piece);
  if (typeof piece === 'number') return String(piece);
  let all = '';
  for (const { text } of piece) all += text;
  return all;
}

/** JSON in a block of data for script: nothing in it can end the block. */
export function dataBlock(id: string, json: string): Html {
  return new Html(
    `<script type="application/json" id="${escape(id)}">${json.replaceAll('<', '\\u003c')}</script>`,
  );
}
