import { parse, View, type Spec } from 'vega';
import { flow } from '../../render/columns.js';
import { printable } from '../../render/style.js';

/** Colours that are told apart by people who see few of them (Okabe and Ito), each used with a shape or word of its own. */
export const COLORS = {
  ink: '#222222',
  quiet: '#5a5a5a',
  line: '#c8c8c8',
  blue: '#0072b2',
  orange: '#a04a00',
  paleBlue: '#cfe5f2',
  paleOrange: '#fbe3c4',
  paleGrey: '#efefef',
  red: '#b00020',
} as const;

export const FONT_FAMILY = 'Arial, Helvetica, "Liberation Sans", Arimo, sans-serif';

/** The height of a line of text. */
export const LINE = 13;

/** Draws a chart. Its data are text of a policy: they are shown and never evaluated. */
export async function svgOfChart(spec: Spec): Promise<string> {
  const config = { background: 'transparent' };
  const view = new View(parse({ ...spec, autosize: 'none' }, config), { renderer: 'none' });
  const svg = await view.toSVG();
  view.finalize();
  return svg;
}

/** About how wide a text is in letters of a size. */
export function widthOfText(text: string, size: number): number {
  return text.length * size * 0.56;
}

/** Breaks a text into lines of about so many characters; what is left over is cut. */
export function wrapped(text: string, characters: number, lines: number): string[] {
  const found = flow(printable(text).split(' '), characters, ' ');
  if (found.length <= lines) return found;
  return [...found.slice(0, lines - 1), `${(found[lines - 1] ?? '').slice(0, characters - 1)}…`];
}

/** Where a mark stands: a number, or a field of its data. */
export type MarkPlace = Readonly<
  Record<'x' | 'y', { readonly value?: number; readonly field?: string; readonly offset?: number }>
>;

/** A mark for the texts of some data, in one or several lines. */
export function textMark(
  data: string,
  field: string,
  { x, y }: MarkPlace,
  how: { readonly bold?: true; readonly quiet?: true } = {},
) {
  return {
    type: 'text' as const,
    from: { data },
    encode: {
      enter: {
        x,
        y,
        text: { field },
        fontSize: { value: how.quiet === true ? 10 : 11 },
        fontWeight: { value: how.bold === true ? 'bold' : 'normal' },
        font: { value: FONT_FAMILY },
        fill: { value: how.quiet === true ? COLORS.quiet : COLORS.ink },
        lineHeight: { value: LINE },
      },
    },
  } as const;
}
