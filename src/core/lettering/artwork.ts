import { GRID_MM, unionRings } from '../base/boolean';
import {
  boxesOverlap, computeBox, concatRings, emptyRings, isEmptyBox, joinBoxes, mapRings, packRings,
  type Affine, type Box, type Chains, type Rings,
} from '../base/rings';
import type { Anchor, Inscription } from '../job/schema';
import { FLATTEN_TOLERANCE_MM, flattenPath } from './flatten';
import { computeLayout } from './layout';
import type { Typeface } from './typeface';

/** One letter of an inscription on the sheet: which character, and the box of its ink, mm. */
export interface Letter {
  char: string;
  cluster: number;
  box: Box;
}

/** The lettering of one inscription on the sheet, mm. Outline fonts fill `regions`, stroke fonts `chains`. */
export interface InscriptionArtwork {
  id: string;
  regions: Rings;
  chains: Chains;
  letters: Letter[];
  /** Characters that the font has not got. */
  missing: string[];
  /** Box of the ink on the sheet. Empty (`minX > maxX`) if there is none. */
  box: Box;
  /** The layout's box (ink across, capitals to last baseline) as four corners on the sheet, x y each, for handles. */
  frame: Float64Array;
  mirrored: boolean;
}

const EMPTY_BOX: Box = { minX: Infinity, minY: Infinity, maxX: -Infinity, maxY: -Infinity };

/** The drawing of a glyph at a size, flattened and cleaned, origin at 0. */
interface GlyphShape {
  rings: Rings;
  box: Box;
}

/** Keeps glyph drawings by typeface, glyph and size, so that a keystroke pays for new letters only. */
export interface GlyphCache {
  get(typeface: Typeface, glyph: number, scale: number): GlyphShape;
}

const MAX_CACHED_GLYPHS = 4000;

export function createGlyphCache(): GlyphCache {
  const shapes = new Map<string, GlyphShape>();
  return {
    get(typeface, glyph, scale) {
      const key = `${typeface.id}|${glyph}|${scale}`;
      let shape = shapes.get(key);
      if (!shape) {
        if (shapes.size >= MAX_CACHED_GLYPHS) shapes.clear();
        const closed = typeface.kind === 'outline';
        const parts = flattenPath(typeface.drawGlyph(glyph), FLATTEN_TOLERANCE_MM / scale, closed);
        const scaled = packRings(parts.map((part) => part.map((v) => v * scale)));
        const rings = closed ? unionRings(scaled) : scaled;
        shape = { rings, box: computeBox(rings.xy) };
        shapes.set(key, shape);
      }
      return shape;
    },
  };
}

const anchorFraction = (anchor: Anchor): [number, number] => [
  anchor.includes('left') ? 0 : anchor.includes('right') ? 1 : 0.5,
  anchor.includes('bottom') ? 0 : anchor.includes('top') ? 1 : 0.5,
];

/**
 * Sets one inscription and puts it on the sheet.
 * Across, lines are justified and anchored by their ink, as a caliper would measure them; up and down by the first
 * line's capitals and the last baseline, so that a tail does not shift the words.
 * @param yAtMm Sheet y of the anchor, mm.
 * @returns Clean regions or chains; letters that overlap are merged. O(n log n) in vertices.
 */
export function computeInscription(
  inscription: Inscription,
  typeface: Typeface,
  yAtMm: number,
  cache: GlyphCache,
): InscriptionArtwork {
  const layout = computeLayout(inscription, typeface);
  const shapes = layout.glyphs.map((g) => cache.get(typeface, g.glyph, layout.scale));
  const boxes = layout.glyphs.map((g, i): Box => {
    const b = shapes[i]!.box;
    return { minX: b.minX + g.xMm, minY: b.minY + g.yMm, maxX: b.maxX + g.xMm, maxY: b.maxY + g.yMm };
  });
  const lineBoxes = layout.lineStarts.slice(0, -1).map((start, row) => {
    const inked = boxes.slice(start, layout.lineStarts[row + 1]).filter((b) => !isEmptyBox(b));
    return inked.reduce(joinBoxes, EMPTY_BOX);
  });
  const widest = Math.max(0, ...lineBoxes.map((b) => (isEmptyBox(b) ? 0 : b.maxX - b.minX)));
  const share = inscription.justify === 'left' ? 0 : inscription.justify === 'right' ? 1 : 0.5;
  const lineShift = lineBoxes.map((b) => (isEmptyBox(b) ? 0 : (widest - (b.maxX - b.minX)) * share - b.minX));

  const bottom = -(layout.lineCount - 1) * layout.leadingMm;
  const top = layout.capHeightMm;
  const [fx, fy] = anchorFraction(inscription.anchor);
  const ax = fx * widest;
  const ay = bottom + fy * (top - bottom);
  const turn = (inscription.rotationDeg * Math.PI) / 180;
  const cos = Math.cos(turn);
  const sin = Math.sin(turn);
  const flip = inscription.mirrored ? -1 : 1;
  // On the grid, at most 0.05 µm off, so that equal letters stay equal to the last digit and are carved once.
  const onGrid = (v: number): number => Math.round(v / GRID_MM) * GRID_MM;
  const place = (dx: number, dy: number): Affine => ({
    a: cos * flip,
    b: sin * flip,
    c: -sin,
    d: cos,
    e: onGrid(inscription.at.xMm + cos * flip * (dx - ax) - sin * (dy - ay)),
    f: onGrid(yAtMm + sin * flip * (dx - ax) + cos * (dy - ay)),
  });

  const rows = layout.glyphs.map((_, i) => layout.lineStarts.findIndex((start, row) => i >= start && i < layout.lineStarts[row + 1]!));
  const placed = layout.glyphs.map((g, i) => mapRings(shapes[i]!.rings, place(g.xMm + lineShift[rows[i]!]!, g.yMm)));
  const letters: Letter[] = layout.glyphs.map((g, i) => ({ char: g.char, cluster: g.cluster, box: computeBox(placed[i]!.xy) }));
  const outline = typeface.kind === 'outline';
  const regions = outline ? mergeOverlapping(placed, letters.map((l) => l.box)) : emptyRings();
  const chains = outline ? emptyRings() : concatRings(placed);
  const corners = [[0, bottom], [widest, bottom], [widest, top], [0, top]].flatMap(([x, y]) => {
    const m = place(x!, y!);
    return [m.e, m.f];
  });
  return {
    id: inscription.id,
    regions,
    chains,
    letters: letters.filter((l) => !isEmptyBox(l.box)),
    missing: layout.missing,
    box: computeBox(outline ? regions.xy : chains.xy),
    frame: Float64Array.from(corners),
    mirrored: inscription.mirrored,
  };
}

/** Unites only the glyphs whose boxes overlap (joined scripts, marks); the others are clean already. */
function mergeOverlapping(placed: readonly Rings[], boxes: readonly Box[]): Rings {
  const order = placed.map((_, i) => i).filter((i) => !isEmptyBox(boxes[i]!)).sort((a, b) => boxes[a]!.minX - boxes[b]!.minX);
  const touching = new Set<number>();
  order.forEach((i, k) => {
    for (let m = k + 1; m < order.length && boxes[order[m]!]!.minX <= boxes[i]!.maxX; m++) {
      if (boxesOverlap(boxes[i]!, boxes[order[m]!]!)) {
        touching.add(i);
        touching.add(order[m]!);
      }
    }
  });
  const alone = order.filter((i) => !touching.has(i)).map((i) => placed[i]!);
  const together = order.filter((i) => touching.has(i)).map((i) => placed[i]!);
  return concatRings(together.length ? [...alone, unionRings(concatRings(together))] : alone);
}

/** Number of vertices in an artwork. */
export const countVertices = (art: InscriptionArtwork): number => (art.regions.xy.length + art.chains.xy.length) / 2;

