import { GRID_MM, unionRings } from '../base/boolean';
import {
  boxesOverlap, computeBox, concatRings, emptyRings, isEmptyBox, joinBoxes, mapRings, packRings,
  type Affine, type Box, type Chains, type Rings,
} from '../base/rings';
import type { Curve } from '../guide/curve';
import { MAX_MARKS, type Anchor, type ArtworkInscription, type FontRef, type Inscription, type SeriesInscription, type TextInscription, type Variables } from '../job/schema';
import type { Surface } from '../surface/surface';
import type { GlyphCache } from './glyphShapes';
import { layOnGuide } from './onGuide';
import { computeSeries } from './seriesArtwork';
import { computeSetting, EMPTY_BOX, type Setting } from './setting';
import type { Typeface } from './typeface';
import { resolveWords } from './words';

export { createGlyphCache } from './glyphShapes';

/** One letter of an inscription on the sheet: which character, and the box of its ink, mm. */
export interface Letter {
  char: string;
  cluster: number;
  box: Box;
}

/** What is wrong with one inscription, as data; worded in `findings/finding.ts`. */
export type LetteringFault =
  | { kind: 'unknown-word'; words: string[] }
  | { kind: 'guide-empty'; guide: string }
  | { kind: 'off-guide'; overMm: number }
  | { kind: 'letters-collide'; pairs: [string, string][] }
  | { kind: 'too-many-marks'; count: number; limit: number }
  | { kind: 'outside-table'; values: number };

/** The lettering of one inscription on the sheet, mm: areas in `regions`, strokes in `chains`. */
export interface InscriptionArtwork {
  id: string;
  regions: Rings;
  chains: Chains;
  letters: Letter[];
  /** Characters that the font has not got. */
  missing: string[];
  /** Characters taken from the second font. */
  fallbacks: string[];
  faults: LetteringFault[];
  /** Box of the ink on the sheet. Empty (`minX > maxX`) if there is none. */
  box: Box;
  /** The layout's box (ink across, capitals to last baseline) as four corners on the sheet, x y each, for handles. */
  frame: Float64Array;
  /** Where reading begins and in which direction, and which way is up: x, y, then two unit vectors. */
  reading: Float64Array;
  mirrored: boolean;
  /** Whether it follows a guide, so that it turns as it goes. */
  onCurve: boolean;
}

/** What the lettering of an inscription depends on besides itself. */
export interface LetteringContext {
  find(ref: FontRef): Typeface | null;
  /** The curve of a guide; null if it has no length. */
  curve(guideId: string): Curve | null;
  surface: Pick<Surface, 'mmPerRad' | 'periodMm'>;
  cache: GlyphCache;
  variables: Variables;
  todayIso: string;
}

export const emptyArtwork = (inscription: Pick<Inscription, 'id' | 'mirrored'>, faults: LetteringFault[] = []): InscriptionArtwork => ({
  id: inscription.id, regions: emptyRings(), chains: emptyRings(), letters: [], missing: [], fallbacks: [], faults,
  box: EMPTY_BOX, frame: new Float64Array(8), reading: new Float64Array(6), mirrored: inscription.mirrored, onCurve: false,
});

const anchorFraction = (anchor: Anchor): [number, number] => [
  anchor.includes('left') ? 0 : anchor.includes('right') ? 1 : 0.5,
  anchor.includes('bottom') ? 0 : anchor.includes('top') ? 1 : 0.5,
];

/** On the grid, at most 0.05 µm off, so that equal letters stay equal to the last digit and are carved once. */
const onGrid = (v: number): number => Math.round(v / GRID_MM) * GRID_MM;

/**
 * The lettering of one inscription, in place on the sheet.
 * @returns Clean regions and chains; letters that overlap are merged. O(n log n) in vertices.
 */
export function computeInscription(inscription: Inscription, context: LetteringContext): InscriptionArtwork {
  switch (inscription.kind) {
    case 'text': return computeText(inscription, context);
    case 'series': return computeSeriesArtwork(inscription, context);
    case 'artwork': return computeImported(inscription, context);
  }
}

/** An inscription's own axes on the sheet: where (0, 0) goes and where its x runs. */
function createPlace(inscription: Inscription, yMm: number, ax: number, ay: number) {
  const turn = (inscription.rotationDeg * Math.PI) / 180;
  const cos = Math.cos(turn), sin = Math.sin(turn);
  const flip = inscription.mirrored ? -1 : 1;
  return (dx: number, dy: number): Affine => ({
    a: cos * flip,
    b: sin * flip,
    c: -sin,
    d: cos,
    e: onGrid(inscription.at.xMm + cos * flip * (dx - ax) - sin * (dy - ay)),
    f: onGrid(yMm + sin * flip * (dx - ax) + cos * (dy - ay)),
  });
}

const yOf = (inscription: Inscription, context: LetteringContext): number => (inscription.at.turnDeg * Math.PI * context.surface.mmPerRad) / 180;

/** Length that the wording's fit asks for along its line, mm; null if it asks for none. */
function findTarget(inscription: TextInscription, context: LetteringContext, curve: Curve | null): number | null {
  const { fit } = inscription;
  const { mmPerRad, periodMm } = context.surface;
  switch (fit.to) {
    case 'length': return fit.lengthMm;
    case 'angle': return (fit.angleDeg * Math.PI * mmPerRad) / 180;
    case 'turn': return periodMm === null ? null : Math.max(0.1, periodMm - fit.gapMm);
    case 'guide': return curve ? Math.max(0.1, curve.lengthMm - fit.gapMm) : null;
    default: return null;
  }
}

interface PlacedPiece {
  char: string;
  cluster: number;
  rings: Rings;
  closed: boolean;
}

function computeText(inscription: TextInscription, context: LetteringContext): InscriptionArtwork {
  const typeface = context.find(inscription.font);
  if (!typeface) return emptyArtwork(inscription);
  const { onGuide } = inscription;
  const faults: LetteringFault[] = [];
  const curve = onGuide ? context.curve(onGuide.guideId) : null;
  const top = onGuide?.topGuideId ? context.curve(onGuide.topGuideId) : null;
  if (onGuide && (!curve || (onGuide.topGuideId && !top))) {
    return emptyArtwork(inscription, [{ kind: 'guide-empty', guide: curve ? onGuide.topGuideId! : onGuide.guideId }]);
  }
  const setContext = {
    typeface, fallback: inscription.fallbackFont ? context.find(inscription.fallbackFont) : null, cache: context.cache,
    targetMm: findTarget(inscription, context, curve),
  };
  const settings = new Map<string, Setting>();
  const unknown = new Set<string>();
  const set = (source: string): Setting => {
    const words = resolveWords(source, context.variables, context.variables.piece, context.todayIso);
    words.unknown.forEach((w) => unknown.add(w));
    let setting = settings.get(words.text);
    if (!setting) settings.set(words.text, (setting = computeSetting(words.text, inscription, setContext)));
    return setting;
  };
  const yMm = yOf(inscription, context);
  const pieces: PlacedPiece[] = [];
  let frame: Float64Array | null = null;
  let reading: Float64Array = new Float64Array(6);
  let overMm = 0;
  const pairs: [string, string][] = [];
  for (const [k, { dx, dy, text }] of listInstances(inscription, context.surface.mmPerRad).entries()) {
    const setting = set(text);
    let placed: Rings[];
    if (onGuide && curve) {
      const laid = layOnGuide(setting, curve, top, onGuide, inscription.mirrored);
      placed = laid.placed;
      overMm = Math.max(overMm, laid.overMm);
      if (k === 0) pairs.push(...laid.collisions);
      if (dx || dy) placed = placed.map((r) => mapRings(r, { a: 1, b: 0, c: 0, d: 1, e: onGrid(dx), f: onGrid(dy) }));
    } else {
      const bottom = -(setting.lineCount - 1) * setting.leadingMm;
      const [fx, fy] = anchorFraction(inscription.anchor);
      const place = createPlace({ ...inscription, at: { ...inscription.at, xMm: inscription.at.xMm + dx } }, yMm + dy, fx * setting.widthMm, bottom + fy * (setting.capHeightMm - bottom));
      placed = setting.glyphs.map((g) => mapRings(g.shape.rings, place(g.xMm, g.yMm)));
      if (k === 0) {
        frame = Float64Array.from([[0, bottom], [setting.widthMm, bottom], [setting.widthMm, setting.capHeightMm], [0, setting.capHeightMm]].flatMap(([x, y]) => {
          const m = place(x!, y!);
          return [m.e, m.f];
        }));
        const m = place(0, 0);
        reading = Float64Array.from([m.e, m.f, m.a, m.b, m.c, m.d]);
      }
    }
    setting.glyphs.forEach((g, i) => pieces.push({ char: g.char, cluster: g.cluster, rings: placed[i]!, closed: g.typeface.kind === 'outline' }));
    if (k === 0 && onGuide) reading = readOnGuide(setting, placed);
  }
  const used = [...settings.values()];
  if (unknown.size) faults.push({ kind: 'unknown-word', words: [...unknown] });
  if (overMm > 1e-6) faults.push({ kind: 'off-guide', overMm });
  if (pairs.length) faults.push({ kind: 'letters-collide', pairs });
  return finish(inscription, pieces, [], [], frame, reading, {
    missing: [...new Set(used.flatMap((s) => s.missing))], fallbacks: [...new Set(used.flatMap((s) => s.fallbacks))], faults,
  });
}

/** Reading direction of letters on a guide: from the first inked letter towards the next, up from its own turn. */
function readOnGuide(setting: Setting, placed: readonly Rings[]): Float64Array {
  const inked = setting.glyphs.map((g, i) => ({ g, box: computeBox(placed[i]!.xy) })).filter((e) => !isEmptyBox(e.box));
  const first = inked[0], last = inked[inked.length > 1 ? 1 : 0];
  if (!first || !last) return new Float64Array(6);
  const [x0, y0] = [(first.box.minX + first.box.maxX) / 2, (first.box.minY + first.box.maxY) / 2];
  const [dx, dy] = [(last.box.minX + last.box.maxX) / 2 - x0, (last.box.minY + last.box.maxY) / 2 - y0];
  const length = Math.hypot(dx, dy);
  return length > 0 ? Float64Array.from([x0, y0, dx / length, dy / length, -dy / length, dx / length]) : Float64Array.from([x0, y0, 1, 0, 0, 1]);
}

/** Shifts and words of the instances of a repeated inscription, the first unmoved. */
function listInstances(inscription: TextInscription, mmPerRad: number): { dx: number; dy: number; text: string }[] {
  const { repeat, text } = inscription;
  if (!repeat) return [{ dx: 0, dy: 0, text }];
  const pitchDeg = repeat.roundPitchDeg !== 0 ? repeat.roundPitchDeg : 360 / repeat.roundCount;
  const out: { dx: number; dy: number; text: string }[] = [];
  for (let a = 0; a < repeat.alongCount; a++) {
    for (let r = 0; r < repeat.roundCount; r++) {
      const k = a * repeat.roundCount + r;
      const words = repeat.words;
      const own = words.kind === 'numbers' ? String(words.start + k * words.step) : words.kind === 'list' ? words.texts[k] ?? text : text;
      out.push({ dx: a * repeat.alongPitchMm, dy: (r * pitchDeg * Math.PI * mmPerRad) / 180, text: own });
    }
  }
  return out;
}

function computeSeriesArtwork(inscription: SeriesInscription, context: LetteringContext): InscriptionArtwork {
  const typeface = context.find(inscription.font);
  if (!typeface) return emptyArtwork(inscription);
  const shapes = computeSeries(inscription, typeface, context.cache, context.surface.mmPerRad, yOf(inscription, context), MAX_MARKS);
  if (!shapes) return emptyArtwork(inscription, [{ kind: 'too-many-marks', count: Math.abs(inscription.to - inscription.from) / inscription.step, limit: MAX_MARKS }]);
  const pieces = shapes.labels.map((l, i): PlacedPiece => ({ ...l, cluster: i }));
  const e = shapes.ends;
  const faults: LetteringFault[] = [];
  if (inscription.table.length) {
    const [low, high] = [Math.min(...inscription.table.map((t) => t.value)), Math.max(...inscription.table.map((t) => t.value))];
    const values = [inscription.from, inscription.to].filter((v) => v < low - 1e-9 || v > high + 1e-9).length;
    if (values) faults.push({ kind: 'outside-table', values });
  }
  return finish(inscription, pieces, shapes.regions, shapes.chains, null, Float64Array.from([e[0]!, e[1]!, e[2]!, e[3]!, -e[3]!, e[2]!]), { missing: shapes.missing, fallbacks: [], faults });
}

function computeImported(inscription: ArtworkInscription, context: LetteringContext): InscriptionArtwork {
  const on = inscription.layers.filter((l) => l.on);
  const rings = packRings(on.flatMap((l) => l.rings));
  const chains = packRings(on.flatMap((l) => l.chains));
  const own = [computeBox(rings.xy), computeBox(chains.xy)].reduce(joinBoxes, EMPTY_BOX);
  if (isEmptyBox(own)) return emptyArtwork(inscription);
  const k = inscription.scaleRatio;
  const [fx, fy] = anchorFraction(inscription.anchor);
  const place = createPlace(inscription, yOf(inscription, context), k * (own.minX + fx * (own.maxX - own.minX)), k * (own.minY + fy * (own.maxY - own.minY)));
  const m = place(0, 0);
  const scaled: Affine = { ...m, a: m.a * k, b: m.b * k, c: m.c * k, d: m.d * k };
  const corners = [[own.minX, own.minY], [own.maxX, own.minY], [own.maxX, own.maxY], [own.minX, own.maxY]].flatMap(([x, y]) => {
    const c = place(k * x!, k * y!);
    return [c.e, c.f];
  });
  const region = rings.xy.length ? unionRings(mapRings(rings, scaled)) : emptyRings();
  return finish(inscription, [], [region], [mapRings(chains, scaled)], Float64Array.from(corners), Float64Array.from([corners[0]!, corners[1]!, m.a, m.b, m.c, m.d]), { missing: [], fallbacks: [], faults: [] });
}

function finish(
  inscription: Inscription, pieces: readonly PlacedPiece[], regions: Rings[], chains: Rings[], frame: Float64Array | null, reading: Float64Array,
  rest: Pick<InscriptionArtwork, 'missing' | 'fallbacks' | 'faults'>,
): InscriptionArtwork {
  const closed = pieces.filter((p) => p.closed);
  const open = pieces.filter((p) => !p.closed);
  const letters: Letter[] = pieces.map((p) => ({ char: p.char, cluster: p.cluster, box: computeBox(p.rings.xy) }));
  const closedBoxes = letters.filter((_, i) => pieces[i]!.closed).map((l) => l.box);
  const allRegions = concatRings([mergeOverlapping(closed.map((p) => p.rings), closedBoxes), ...regions]);
  const allChains = concatRings([...open.map((p) => p.rings), ...chains]);
  const box = [computeBox(allRegions.xy), computeBox(allChains.xy)].reduce(joinBoxes, EMPTY_BOX);
  return {
    id: inscription.id, regions: allRegions, chains: allChains, letters: letters.filter((l) => !isEmptyBox(l.box)), ...rest, box,
    frame: frame ?? (isEmptyBox(box) ? new Float64Array(8) : Float64Array.from([box.minX, box.minY, box.maxX, box.minY, box.maxX, box.maxY, box.minX, box.maxY])),
    reading, mirrored: inscription.mirrored,
    onCurve: (inscription.kind === 'text' && inscription.onGuide !== null) || (inscription.kind === 'series' && inscription.shape === 'dial'),
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
