import { isEmptyBox, isEmptyRings, type Box } from '../base/rings';
import { ringsToPathData } from '../base/svgPath';
import type { Lettering } from '../pipeline/lettering';
import type { Surface } from '../surface/surface';

/** Decimals of the drawing, mm: finer than a printer. */
const DECIMALS = 2;
/** Width of lines and size of marks, as shares of the sheet's longer side. */
const LINE_SHARE = 0.002;
const MARK_SHARE = 0.02;

/**
 * The lettered sheet in true size as SVG: x along to the right, y round upward, seen from outside, with the datum end as a thick line and
 * the line of turn 0 as a dashed one. Millimetre units. O(vertices).
 */
export function toSetupDrawing(surface: Pick<Surface, 'domain' | 'outline' | 'round'>, artworks: Lettering['artworks']): string {
  const { domain, outline, round } = surface;
  const [w, h] = [domain.maxX - domain.minX, domain.maxY - domain.minY];
  const stroke = LINE_SHARE * Math.max(w, h);
  const mark = MARK_SHARE * Math.max(w, h);
  const f = (v: number): string => String(Math.round(v * 100) / 100);
  const parts = [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${f(w + 2 * mark)}" height="${f(h + 2 * mark)}" viewBox="${f(domain.minX - mark)} ${f(-domain.maxY - mark)} ${f(w + 2 * mark)} ${f(h + 2 * mark)}">`,
    outline
      ? `<path d="${ringsToPathData(outline, { closed: true, decimals: DECIMALS, yDown: true })}" fill="none" stroke="#555" stroke-width="${f(stroke)}"/>`
      : `<rect x="${f(domain.minX)}" y="${f(-domain.maxY)}" width="${f(w)}" height="${f(h)}" fill="none" stroke="#555" stroke-width="${f(stroke)}"/>`,
  ];
  const line = (x1: number, y1: number, x2: number, y2: number, width: number, more = ''): void =>
    void parts.push(`<line x1="${f(x1)}" y1="${f(y1)}" x2="${f(x2)}" y2="${f(y2)}" stroke="#111" stroke-width="${f(width)}"${more}/>`);
  line(domain.minX, -domain.maxY, domain.minX, -domain.minY, 3 * stroke);
  if (round && domain.minY < 0 && domain.maxY > 0)
    line(domain.minX - mark, 0, domain.maxX + mark, 0, stroke, ` stroke-dasharray="${f(6 * stroke)} ${f(4 * stroke)}"`);
  const boxes = artworks.map((a) => a.box);
  artworks.forEach(({ regions, chains, box }, own) => {
    // An edge that is cut out goes round what is lettered: filled it would hide it.
    const around = boxes.some((other, k) => k !== own && isInside(other, box));

    if (!isEmptyRings(regions))
      parts.push(
        `<path ${around ? `fill="none" stroke="#222" stroke-width="${f(stroke)}"` : 'fill="#222"'} fill-rule="nonzero" d="${ringsToPathData(regions, { closed: true, decimals: DECIMALS, yDown: true })}"/>`,
      );
    if (!isEmptyRings(chains))
      parts.push(
        `<path fill="none" stroke="#222" stroke-width="${f(stroke)}" d="${ringsToPathData(chains, { closed: false, decimals: DECIMALS, yDown: true })}"/>`,
      );
  });
  return `${parts.join('')}</svg>`;
}

const isInside = (a: Box, b: Box): boolean =>
  !isEmptyBox(a) && a.minX >= b.minX && a.maxX <= b.maxX && a.minY >= b.minY && a.maxY <= b.maxY;
