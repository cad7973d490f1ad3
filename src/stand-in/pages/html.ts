import { printable } from '../../render/style.js';

/** Text that is HTML already. */
export class Html {
  constructor(readonly text: string) {}
}

type Piece = string | number | Html | null | readonly Html[];

const ESCAPES: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&#39;',
};

/** Text made harmless in HTML, in an attribute too; control characters are shown by their code points. */
export function escape(text: string): string {
  return printable(text).replace(/[&<>"']/g, (character) => ESCAPES[character] ?? character);
}

/** Writes HTML; whatever is put in is escaped unless it is HTML itself. */
export function html(fixed: TemplateStringsArray, ...pieces: readonly Piece[]): Html {
  return new Html(
    fixed.map((text, at) => text + (at < pieces.length ? pieceText(pieces[at] ?? null) : '')).join(''),
  );
}

function pieceText(piece: Piece): string {
  if (piece === null) return '';
  if (piece instanceof Html) return piece.text;
  if (typeof piece === 'object') return piece.map(({ text }) => text).join('');
  return escape(String(piece));
}

/** JSON in a block of data for script: nothing in it can end the block. */
export function dataBlock(id: string, json: string): Html {
  return new Html(
    `<script type="application/json" id="${escape(id)}">${json.replaceAll('<', '\\u003c')}</script>`,
  );
}
