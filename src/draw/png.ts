import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { initWasm, Resvg } from '@resvg/resvg-wasm';

let ready: Promise<void> | null = null;

/** So many pixels for each of the picture's own, so that small letters stay legible. */
const ZOOM = 2;

/** Draws an SVG as PNG, by resvg compiled to WebAssembly, with letters that come with the program: it looks the same everywhere. */
export async function pngOfSvg(svg: string): Promise<Uint8Array> {
  const file = (name: string) => readFileSync(join(import.meta.dirname, name));
  ready ??= initWasm(file('resvg.wasm'));
  await ready;
  const image = new Resvg(svg, {
    background: '#ffffff',
    fitTo: { mode: 'zoom', value: ZOOM },
    font: {
      fontBuffers: [file('arimo.ttf'), file('arimo-bold.ttf')],
      defaultFontFamily: 'Arimo',
      sansSerifFamily: 'Arimo',
    },
  });
  return image.render().asPng();
}
