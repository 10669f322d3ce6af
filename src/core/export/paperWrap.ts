import { err, ok, type Result } from '../base/result';
import { concatRings, computeBox, isEmptyRings, packRings, type Rings } from '../base/rings';
import { ringsToPathData } from '../base/svgPath';
import type { Lettering } from '../pipeline/lettering';
import { fromTurnDeg, type Surface } from '../surface/surface';

/** A drawing in true size to be wrapped round the real blank. */
export interface PaperWrap {
  svg: string;
  widthMm: number;
  heightMm: number;
}

/** Why none can be drawn: the skin cannot be laid flat, or the paper would be longer than any printer’s. */
export type PaperWrapError = { kind: 'notFlat' } | { kind: 'tooLarge'; mm: number; mostMm: number };

/** The bar to check the printer by, mm. */
export const BAR_MM = 100;
/** Longest side of a paper, mm: what PDF allows (ISO 32000-1, Annex C, from memory: 14,400 units of 1/72 in). */
const MOST_MM = (14_400 / 72) * 25.4 - 50;
/** Room round the drawing, and below it for the bar, mm. */
const [EDGE_MM, BAR_ROOM_MM] = [4, 20];
/** Where the paper is glued, past the seam, mm. */
const FLAP_MM = 8;
/** Chords on paper leave an arc by no more, mm. */
const CHORD_MM = 0.01;
const DECIMALS = 3;
const LINE_MM = 0.15;
const TEXT_MM = 2.2;

/**
 * The lettered skin laid flat in true size: a rectangle of a cylinder, a sector of a cone, a plate as it is. Datum end thick, seam thin,
 * turn 0 dashed and the line where the rotary is 0 marked, a flap to glue, and a bar to check the printer by. O(vertices).
 * @param zeroTurnDeg Turn at which the rotary's word is 0.
 */
export function toPaperWrap(
  surface: Surface,
  artworks: Lettering['artworks'],
  title: string,
  zeroTurnDeg = 0,
): Result<PaperWrap, PaperWrapError> {
  const develop = createDevelopment(surface);
  if (!develop) return err({ kind: 'notFlat' });
  const { minX, maxX, minY, maxY } = surface.domain;
  const flap = surface.periodMm === null ? 0 : FLAP_MM;
  const lay = (rings: Rings, closed: boolean): Rings => develop.rings(rings, closed);
  const ring = (...xy: number[]): Rings => lay(packRings([xy]), true);
  const line = (...xy: number[]): Rings => lay(packRings([xy]), false);
  const skin = surface.outline ? lay(surface.outline, true) : ring(minX, minY, maxX, minY, maxX, maxY, minX, maxY);
  const glue = flap > 0 ? ring(minX, maxY, maxX, maxY, maxX, maxY + flap, minX, maxY + flap) : null;
  const box = computeBox(concatRings(glue ? [skin, glue] : [skin]).xy);
  const widthMm = Math.max(box.maxX - box.minX, BAR_MM) + 2 * EDGE_MM;
  const heightMm = box.maxY - box.minY + 2 * EDGE_MM + BAR_ROOM_MM;
  if (Math.max(widthMm, heightMm) > MOST_MM) return err({ kind: 'tooLarge', mm: Math.max(widthMm, heightMm), mostMm: MOST_MM });
  const data = (rings: Rings, closed: boolean): string => ringsToPathData(rings, { closed, decimals: DECIMALS, yDown: true });
  const path = (d: string, more: string): string => `<path d="${d}" fill="none" stroke="#111" stroke-width="${LINE_MM}" ${more}/>`;
  const [left, top] = [box.minX - EDGE_MM, -box.maxY - EDGE_MM];
  const barY = -box.minY + EDGE_MM + 6;
  const f = (v: number): string => String(Math.round(v * 1000) / 1000);
  const parts = [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${f(widthMm)}" height="${f(heightMm)}" viewBox="${f(left)} ${f(top)} ${f(widthMm)} ${f(heightMm)}">`,
    path(data(skin, true), ''),
    ...(glue ? [path(data(glue, true), 'stroke-dasharray="1 1"')] : []),
    surface.outline ? '' : path(data(line(minX, minY, minX, maxY), false), `style="stroke-width:${f(6 * LINE_MM)}"`),
  ];
  if (surface.round && surface.periodMm !== null) {
    for (const [turn, dash] of [
      [0, '4 2'],
      [zeroTurnDeg, '1 1.5'],
    ] as const) {
      const y = wrapInto(fromTurnDeg(surface, turn), minY, surface.periodMm);
      parts.push(path(data(line(minX, y, maxX, y), false), `stroke-dasharray="${dash}"`));
    }
  }
  for (const { regions, chains } of artworks) {
    if (!isEmptyRings(regions)) parts.push(path(data(lay(regions, true), true), ''));
    if (!isEmptyRings(chains)) parts.push(path(data(lay(chains, false), false), ''));
  }
  const turns = surface.round ? '; dashed: turn 0; dotted: where the rotary is 0' : '';
  const x0 = box.minX;
  const tick = (x: number): string => `M${f(x)} ${f(barY - 1.5)}L${f(x)} ${f(barY + 1.5)}`;
  parts.push(
    path(`M${f(x0)} ${f(barY)}L${f(x0 + BAR_MM)} ${f(barY)}`, ''),
    path(`${tick(x0)}${tick(x0 + BAR_MM / 2)}${tick(x0 + BAR_MM)}`, ''),
    ...[title, `This bar is ${BAR_MM} mm: measure it before you trust the paper. Thick: the datum end${turns}.`].map(
      (text, k) => `<text x="${f(x0)}" y="${f(barY + 5 + 4 * k)}" font-size="${f(TEXT_MM)}">${escape(text)}</text>`,
    ),
    '</svg>',
  );
  return ok({ svg: parts.join(''), widthMm, heightMm });
}

const escape = (text: string): string => text.replace(/[&<>]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;' })[c]!);
const wrapInto = (y: number, minY: number, period: number): number => minY + ((((y - minY) % period) + period) % period);

/** How a skin lies flat; null where it does not. */
function createDevelopment(surface: Surface): { rings(rings: Rings, closed: boolean): Rings } | null {
  if (!surface.developable) return null;
  if (surface.isometric) return { rings: (rings) => rings };
  const { minX, maxX } = surface.domain;
  const [r0, r1] = [surface.radiusAt(minX, 0), surface.radiusAt(maxX, 0)];
  const slope = (r1 - r0) / (maxX - minX);
  // A cone is the only other blank that can be laid flat: a sector, whose apex is where its radius comes to nothing.
  if (!surface.round || Math.abs(slope) < 1e-9) return null;
  const put = (x: number, y: number, out: number[]): void => {
    const along = r0 / slope + (x - minX),
      angle = (y / surface.mmPerRad) * slope;
    out.push(along * Math.cos(angle), along * Math.sin(angle));
  };
  const widest = Math.max(r0, r1);
  return {
    rings(rings, closed) {
      const { xy, starts } = rings;
      const out: number[][] = [];
      for (let k = 0; k + 1 < starts.length; k++) {
        const [from, to] = [starts[k]!, starts[k + 1]!];
        const own: number[] = [];
        for (let i = from; i < to; i++) {
          const j = i + 1 < to ? i + 1 : from;
          put(xy[2 * i]!, xy[2 * i + 1]!, own);
          if (j === from && !closed) continue;
          const [dx, dy] = [xy[2 * j]! - xy[2 * i]!, xy[2 * j + 1]! - xy[2 * i + 1]!];
          // A chord over an angle leaves its arc by r·a²/8.
          const turn = Math.abs((dy / surface.mmPerRad) * slope);
          const pieces = Math.max(1, Math.ceil(turn / Math.sqrt((8 * CHORD_MM * Math.abs(slope)) / widest)));
          for (let p = 1; p < pieces; p++) put(xy[2 * i]! + (p / pieces) * dx, xy[2 * i + 1]! + (p / pieces) * dy, own);
        }
        out.push(own);
      }
      return packRings(out);
    },
  };
}
