import { GRID_MM, unionRings } from '../base/boolean';
import { regionsMayMeet } from '../base/meet';
import {
  boxesOverlap,
  computeBox,
  concatRings,
  emptyRings,
  isEmptyBox,
  joinBoxes,
  mapRings,
  packRings,
  type Affine,
  type Box,
  type Chains,
  type Rings,
} from '../base/rings';
import type { Curve } from '../guide/curve';
import {
  MAX_MARKS,
  type Anchor,
  type ArtworkInscription,
  type FontRef,
  type Inscription,
  type SeriesInscription,
  type TextInscription,
  type Variables,
} from '../job/schema';
import { fromTurnDeg } from '../surface/surface';
import type { GlyphCache } from './glyphShapes';
import type { LaidPiece, PieceLayer } from './layPieces';
import { layOnGuide, middleOf } from './onGuide';
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
  /** Largest stretch from the lettering plane to the metal: 1 where it is true. */
  stretch: number;
}

/** What is wrong with one inscription, as data; worded in `findings/finding.ts`. */
export type LetteringFault =
  | { kind: 'unknown-word'; words: string[] }
  | { kind: 'guide-empty'; guide: string }
  | { kind: 'off-guide'; overMm: number }
  | { kind: 'letters-collide'; pairs: [string, string][] }
  | { kind: 'too-many-marks'; count: number; limit: number }
  | { kind: 'outside-table'; values: number }
  /** Letters that the lay does not bring on to the surface. */
  | { kind: 'letters-miss'; letters: string[]; from: 'outside' | 'behind' }
  /** Letters met at more than the limit by the projection; the steepest. */
  | { kind: 'too-steep'; letters: string[]; mostDeg: number };

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
  /** Lays pieces on the surface by the job's lay. */
  layer: PieceLayer;
  /** Angle between projection and normal above which letters are a fault. */
  steepLimitDeg: number;
  cache: GlyphCache;
  variables: Variables;
  todayIso: string;
}

export const emptyArtwork = (inscription: Pick<Inscription, 'id' | 'mirrored'>, faults: LetteringFault[] = []): InscriptionArtwork => ({
  id: inscription.id,
  regions: emptyRings(),
  chains: emptyRings(),
  letters: [],
  missing: [],
  fallbacks: [],
  faults,
  box: EMPTY_BOX,
  frame: new Float64Array(8),
  reading: new Float64Array(6),
  mirrored: inscription.mirrored,
  onCurve: false,
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
    case 'text':
      return computeText(inscription, context);
    case 'series':
      return computeSeriesArtwork(inscription, context);
    case 'artwork':
      return computeImported(inscription, context);
  }
}

/** An inscription's own axes in the lettering plane: where (0, 0) goes and where its x runs. */
function createPlace(inscription: Inscription, xMm: number, yMm: number, ax: number, ay: number) {
  const turn = (inscription.rotationDeg * Math.PI) / 180;
  const cos = Math.cos(turn),
    sin = Math.sin(turn);
  const flip = inscription.mirrored ? -1 : 1;
  return (dx: number, dy: number): Affine => ({
    a: cos * flip,
    b: sin * flip,
    c: -sin,
    d: cos,
    e: onGrid(xMm + cos * flip * (dx - ax) - sin * (dy - ay)),
    f: onGrid(yMm + sin * flip * (dx - ax) + cos * (dy - ay)),
  });
}

const yOf = (inscription: Inscription, context: LetteringContext): number => fromTurnDeg(context.layer.surface, inscription.at.turnDeg);

/**
 * Length that the wording's fit asks for along its line, mm; null if it asks for none.
 * @param lineXMm Sheet x of the line it is measured on: round a cone or profile, turns are longer where it is thicker.
 */
function findTarget(
  inscription: TextInscription,
  context: LetteringContext,
  curve: Curve | null,
  lineXMm: number,
  yMm: number,
): number | null {
  const { fit } = inscription;
  const { surface } = context.layer;
  const radius = surface.radiusAt(lineXMm, yMm);
  switch (fit.to) {
    case 'length':
      return fit.lengthMm;
    case 'angle':
      return (fit.angleDeg * Math.PI * radius) / 180;
    case 'turn':
      return surface.periodMm === null ? null : Math.max(0.1, 2 * Math.PI * radius - fit.gapMm);
    case 'guide':
      return curve ? Math.max(0.1, curve.lengthMm - fit.gapMm) : null;
    default:
      return null;
  }
}

interface PlacedPiece {
  char: string;
  cluster: number;
  laid: LaidPiece;
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
    typeface,
    fallback: inscription.fallbackFont ? context.find(inscription.fallbackFont) : null,
    cache: context.cache,
  };
  const { layer } = context;
  const { lay, surface } = layer;
  const settings = new Map<string, Setting>();
  const unknown = new Set<string>();
  const set = (source: string): Setting => {
    const words = resolveWords(source, context.variables, context.variables.piece, context.todayIso);
    words.unknown.forEach((w) => unknown.add(w));
    let setting = settings.get(words.text);
    if (!setting) settings.set(words.text, (setting = fitSetting(words.text)));
    return setting;
  };
  const yMm = yOf(inscription, context);
  /** Sets a text; where its line's length depends on where the line comes to stand, once more when that is known. */
  const fitSetting = (text: string): Setting => {
    const by = (lineXMm: number) =>
      computeSetting(text, inscription, { ...setContext, targetMm: findTarget(inscription, context, curve, lineXMm, yMm) });
    let setting = by(inscription.at.xMm);
    if (lay.plain || onGuide || (inscription.fit.to !== 'turn' && inscription.fit.to !== 'angle')) return setting;
    for (let k = 0; k < 2; k++) setting = by(inscription.at.xMm + placeOf(setting, 0, 0)(0, 0).e);
    return setting;
  };
  /** The setting's own axes, its anchor at a place of the plane. */
  const placeOf = (setting: Setting, xAt: number, yAt: number) => {
    const bottom = -(setting.lineCount - 1) * setting.leadingMm;
    const [fx, fy] = anchorFraction(inscription.anchor);
    return createPlace(inscription, xAt, yAt, fx * setting.widthMm, bottom + fy * (setting.capHeightMm - bottom));
  };
  const pieces: PlacedPiece[] = [];
  let frame: Float64Array | null = null;
  let reading: Float64Array = new Float64Array(6);
  let overMm = 0;
  const pairs: [string, string][] = [];
  for (const [k, { dx, dy, text }] of listInstances(inscription, surface.mmPerRad).entries()) {
    const setting = set(text);
    let placed: LaidPiece[];
    if (onGuide && curve) {
      const laid = layOnGuide(setting, curve, top, onGuide, inscription.mirrored, layer);
      placed = laid.placed;
      overMm = Math.max(overMm, laid.overMm);
      if (k === 0) pairs.push(...laid.collisions);
      if (dx || dy)
        placed = placed.map((p) => ({ ...p, rings: mapRings(p.rings, { a: 1, b: 0, c: 0, d: 1, e: onGrid(dx), f: onGrid(dy) }) }));
    } else {
      // On a true sheet the plane is the sheet itself, and places are those of the sheet to the last digit.
      const anchor = lay.plain ? ([0, 0] as const) : ([inscription.at.xMm + dx, yMm + dy] as const);
      const place = lay.plain ? placeOf(setting, inscription.at.xMm + dx, yMm + dy) : placeOf(setting, 0, 0);
      placed = setting.glyphs.map((g) => {
        const own = place(g.xMm, g.yMm);
        // The foot of a letter: the middle of its advance, on its line.
        const foot = place(middleOf(setting.glyphs, g), -g.row * setting.leadingMm);
        return layer.layPiece(g.shape.rings, own, g.typeface.kind === 'outline', anchor, [foot.e, foot.f]);
      });
      if (k === 0) {
        const bottom = -(setting.lineCount - 1) * setting.leadingMm;
        const corners = [
          [0, bottom],
          [setting.widthMm, bottom],
          [setting.widthMm, setting.capHeightMm],
          [0, setting.capHeightMm],
        ].map(([x, y]) => place(x!, y!));
        frame = toSheetPoints(
          layer,
          anchor,
          corners.flatMap((m) => [m.e, m.f]),
        );
        reading = toSheetReading(layer, anchor, place(0, 0));
      }
    }
    setting.glyphs.forEach((g, i) =>
      pieces.push({ char: g.char, cluster: g.cluster, laid: placed[i]!, closed: g.typeface.kind === 'outline' }),
    );
    if (k === 0 && onGuide)
      reading = readOnGuide(
        setting,
        placed.map((p) => p.rings),
      );
  }
  const used = [...settings.values()];
  if (unknown.size) faults.push({ kind: 'unknown-word', words: [...unknown] });
  if (overMm > 1e-6) faults.push({ kind: 'off-guide', overMm });
  if (pairs.length) faults.push({ kind: 'letters-collide', pairs });
  return finish(inscription, context, pieces, [], [], frame, reading, {
    missing: [...new Set(used.flatMap((s) => s.missing))],
    fallbacks: [...new Set(used.flatMap((s) => s.fallbacks))],
    faults,
  });
}

/** Plane places about an anchor, as x y in turn, taken to the sheet; null where one is off the surface. */
function toSheetPoints(layer: PieceLayer, [ax, ay]: readonly [number, number], uv: readonly number[]): Float64Array | null {
  if (layer.lay.plain) return Float64Array.from(uv, (v, i) => v + (i % 2 ? ay : ax));
  const map = layer.lay.aboutExactly(ax, ay);
  const out = new Float64Array(uv.length),
    at = new Float64Array(3);
  for (let i = 0; i < uv.length; i += 2) {
    if (!map.map(uv[i]!, uv[i + 1]!, at)) return null;
    out[i] = at[0]!;
    out[i + 1] = at[1]!;
  }
  return out;
}

/** Where reading begins on the sheet, its direction and which way is up. */
function toSheetReading(layer: PieceLayer, anchor: readonly [number, number], m: Affine): Float64Array {
  const e = layer.lay.plain ? 1 : 1e-3;
  const p = toSheetPoints(layer, anchor, [m.e, m.f, m.e + e * m.a, m.f + e * m.b, m.e + e * m.c, m.f + e * m.d]);
  if (!p) return new Float64Array(6);
  const [rx, ry, ux, uy] = [p[2]! - p[0]!, p[3]! - p[1]!, p[4]! - p[0]!, p[5]! - p[1]!];
  const [r, u] = layer.lay.plain ? [1, 1] : [Math.hypot(rx, ry) || 1, Math.hypot(ux, uy) || 1];
  return Float64Array.from(
    layer.lay.plain ? [m.e + anchor[0], m.f + anchor[1], m.a, m.b, m.c, m.d] : [p[0]!, p[1]!, rx / r, ry / r, ux / u, uy / u],
  );
}

/** Reading direction of letters on a guide: from the first inked letter towards the next, up from its own turn. */
function readOnGuide(setting: Setting, placed: readonly Rings[]): Float64Array {
  const inked = setting.glyphs.map((g, i) => ({ g, box: computeBox(placed[i]!.xy) })).filter((e) => !isEmptyBox(e.box));
  const first = inked[0],
    last = inked[inked.length > 1 ? 1 : 0];
  if (!first || !last) return new Float64Array(6);
  const [x0, y0] = [(first.box.minX + first.box.maxX) / 2, (first.box.minY + first.box.maxY) / 2];
  const [dx, dy] = [(last.box.minX + last.box.maxX) / 2 - x0, (last.box.minY + last.box.maxY) / 2 - y0];
  const length = Math.hypot(dx, dy);
  return length > 0
    ? Float64Array.from([x0, y0, dx / length, dy / length, -dy / length, dx / length])
    : Float64Array.from([x0, y0, 1, 0, 0, 1]);
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
      const own = words.kind === 'numbers' ? String(words.start + k * words.step) : words.kind === 'list' ? (words.texts[k] ?? text) : text;
      out.push({ dx: a * repeat.alongPitchMm, dy: (r * pitchDeg * Math.PI * mmPerRad) / 180, text: own });
    }
  }
  return out;
}

function computeSeriesArtwork(inscription: SeriesInscription, context: LetteringContext): InscriptionArtwork {
  const typeface = context.find(inscription.font);
  if (!typeface) return emptyArtwork(inscription);
  const { layer } = context;
  const { lay, surface } = layer;
  const yMm = yOf(inscription, context);
  const anchor = lay.plain ? ([0, 0] as const) : ([inscription.at.xMm, yMm] as const);
  const shapes = computeSeries(
    inscription,
    typeface,
    context.cache,
    lay.plain ? surface.mmPerRad : surface.radiusAt(inscription.at.xMm, yMm),
    lay.plain ? inscription.at.xMm : 0,
    lay.plain ? yMm : 0,
    MAX_MARKS,
  );
  if (!shapes)
    return emptyArtwork(inscription, [
      { kind: 'too-many-marks', count: Math.abs(inscription.to - inscription.from) / inscription.step, limit: MAX_MARKS },
    ]);
  // A scale round the blank keeps its angles on every lay but a projection: each mark stands on its own generator.
  const byFoot = lay.byLetter || (inscription.shape === 'round' && lay.straightOn);
  const lay1 = (rings: Rings, place: Affine, closed: boolean, foot: readonly [number, number]) =>
    layer.layPiece(rings, place, closed, anchor, foot, byFoot);
  const pieces = shapes.labels.map((l, i): PlacedPiece => ({
    char: l.char,
    cluster: i,
    closed: l.closed,
    laid: lay1(l.shape, l.place, l.closed, l.foot),
  }));
  const regions: Rings[] = [],
    chains: Rings[] = [];
  if (lay.plain) {
    if (shapes.areas.length) regions.push(packRings(shapes.areas.map((a) => a.xy)));
    if (shapes.strokes.length) chains.push(packRings(shapes.strokes.map((a) => a.xy)));
  } else {
    for (const [list, out, closed] of [
      [shapes.areas, regions, true],
      [shapes.strokes, chains, false],
    ] as const) {
      for (const { xy, foot } of list) {
        const laid = lay1(packRings([xy]), UNMOVED, closed, foot);
        out.push(laid.rings);
        if (!laid.lands) pieces.push({ char: '|', cluster: -1, closed, laid: { ...laid, rings: emptyRings() } });
      }
    }
  }
  const e = shapes.ends;
  const faults: LetteringFault[] = [];
  if (inscription.table.length) {
    const [low, high] = [Math.min(...inscription.table.map((t) => t.value)), Math.max(...inscription.table.map((t) => t.value))];
    const values = [inscription.from, inscription.to].filter((v) => v < low - 1e-9 || v > high + 1e-9).length;
    if (values) faults.push({ kind: 'outside-table', values });
  }
  const reading = toSheetReading(layer, anchor, { a: e[2]!, b: e[3]!, c: -e[3]!, d: e[2]!, e: e[0]!, f: e[1]! });
  return finish(inscription, context, pieces, regions, chains, null, reading, { missing: shapes.missing, fallbacks: [], faults });
}

const UNMOVED: Affine = { a: 1, b: 0, c: 0, d: 1, e: 0, f: 0 };

function computeImported(inscription: ArtworkInscription, context: LetteringContext): InscriptionArtwork {
  const on = inscription.layers.filter((l) => l.on);
  const rings = packRings(on.flatMap((l) => l.rings));
  const chains = packRings(on.flatMap((l) => l.chains));
  const own = [computeBox(rings.xy), computeBox(chains.xy)].reduce(joinBoxes, EMPTY_BOX);
  if (isEmptyBox(own)) return emptyArtwork(inscription);
  const { layer } = context;
  const { lay } = layer;
  const k = inscription.scaleRatio;
  const [fx, fy] = anchorFraction(inscription.anchor);
  const yMm = yOf(inscription, context);
  const anchor = lay.plain ? ([0, 0] as const) : ([inscription.at.xMm, yMm] as const);
  const place = createPlace(
    inscription,
    lay.plain ? inscription.at.xMm : 0,
    lay.plain ? yMm : 0,
    k * (own.minX + fx * (own.maxX - own.minX)),
    k * (own.minY + fy * (own.maxY - own.minY)),
  );
  const m = place(0, 0);
  const scaled: Affine = { ...m, a: m.a * k, b: m.b * k, c: m.c * k, d: m.d * k };
  const corners = [
    [own.minX, own.minY],
    [own.maxX, own.minY],
    [own.maxX, own.maxY],
    [own.minX, own.maxY],
  ].flatMap(([x, y]) => {
    const c = place(k * x!, k * y!);
    return [c.e, c.f];
  });
  const reading = toSheetReading(layer, anchor, { ...m, e: corners[0]!, f: corners[1]! });
  const frame = toSheetPoints(layer, anchor, corners);
  const rest = { missing: [], fallbacks: [], faults: [] };
  if (lay.plain) {
    return finish(
      inscription,
      context,
      [],
      [rings.xy.length ? unionRings(mapRings(rings, scaled)) : emptyRings()],
      [mapRings(chains, scaled)],
      frame,
      reading,
      rest,
    );
  }
  // A drawing is laid whole, as if it were one letter.
  const name = inscription.source || 'artwork';
  const pieces = [
    [rings, true],
    [chains, false],
  ].flatMap(([part, closed]): PlacedPiece[] => {
    const own1 = part as Rings;
    return own1.xy.length
      ? [{ char: name, cluster: 0, closed: closed as boolean, laid: layer.layPiece(own1, scaled, closed as boolean, anchor, [0, 0]) }]
      : [];
  });
  for (const p of pieces) if (p.closed) p.laid = { ...p.laid, rings: unionRings(p.laid.rings) };
  return finish(inscription, context, pieces, [], [], frame, reading, rest);
}

/** Faults of pieces that the lay does not bring on to the surface, or too much from the side. */
function findLayFaults(pieces: readonly PlacedPiece[], context: LetteringContext): LetteringFault[] {
  const out: LetteringFault[] = [];
  const names = (list: readonly PlacedPiece[]) => [...new Set(list.map((p) => p.char))];
  const lost = pieces.filter((p) => !p.laid.lands);
  if (lost.length) out.push({ kind: 'letters-miss', letters: names(lost), from: lost.length === pieces.length ? 'behind' : 'outside' });
  const least = Math.cos((context.steepLimitDeg * Math.PI) / 180);
  const steep = pieces.filter((p) => p.laid.lands && p.laid.facing < least);
  if (steep.length)
    out.push({
      kind: 'too-steep',
      letters: names(steep),
      mostDeg: (Math.acos(Math.max(0, Math.min(...steep.map((p) => p.laid.facing)))) * 180) / Math.PI,
    });
  return out;
}

function finish(
  inscription: Inscription,
  context: LetteringContext,
  all: readonly PlacedPiece[],
  regions: Rings[],
  chains: Rings[],
  frame: Float64Array | null,
  reading: Float64Array,
  rest: Pick<InscriptionArtwork, 'missing' | 'fallbacks' | 'faults'>,
): InscriptionArtwork {
  const faults = [...rest.faults, ...findLayFaults(all, context)];
  // What does not land has no place to be cut in: it is named above, and left out.
  const pieces = all.filter((p) => p.laid.lands);
  const closed = pieces.filter((p) => p.closed);
  const open = pieces.filter((p) => !p.closed);
  const letters: Letter[] = pieces.map((p) => ({
    char: p.char,
    cluster: p.cluster,
    box: computeBox(p.laid.rings.xy),
    stretch: p.laid.stretch,
  }));
  const closedBoxes = letters.filter((_, i) => pieces[i]!.closed).map((l) => l.box);
  const allRegions = concatRings([
    mergeOverlapping(
      closed.map((p) => p.laid.rings),
      closedBoxes,
    ),
    ...regions,
  ]);
  const allChains = concatRings([...open.map((p) => p.laid.rings), ...chains]);
  const box = [computeBox(allRegions.xy), computeBox(allChains.xy)].reduce(joinBoxes, EMPTY_BOX);
  return {
    id: inscription.id,
    regions: allRegions,
    chains: allChains,
    letters: letters.filter((l) => !isEmptyBox(l.box)),
    ...rest,
    faults,
    box,
    frame:
      frame ??
      (isEmptyBox(box)
        ? new Float64Array(8)
        : Float64Array.from([box.minX, box.minY, box.maxX, box.minY, box.maxX, box.maxY, box.minX, box.maxY])),
    reading,
    mirrored: inscription.mirrored,
    onCurve:
      (inscription.kind === 'text' && inscription.onGuide !== null) || (inscription.kind === 'series' && inscription.shape === 'dial'),
  };
}

/** Unites only the glyphs that meet (joined scripts, marks); the others are clean already, and stay equal to the last digit. */
function mergeOverlapping(placed: readonly Rings[], boxes: readonly Box[]): Rings {
  const order = placed
    .map((_, i) => i)
    .filter((i) => !isEmptyBox(boxes[i]!))
    .sort((a, b) => boxes[a]!.minX - boxes[b]!.minX);
  const touching = new Set<number>();
  order.forEach((i, k) => {
    for (let m = k + 1; m < order.length && boxes[order[m]!]!.minX <= boxes[i]!.maxX; m++) {
      if (touching.has(i) && touching.has(order[m]!)) continue;
      if (boxesOverlap(boxes[i]!, boxes[order[m]!]!) && regionsMayMeet(placed[i]!, placed[order[m]!]!)) {
        touching.add(i);
        touching.add(order[m]!);
      }
    }
  });
  const alone = order.filter((i) => !touching.has(i)).map((i) => placed[i]!);
  const together = order.filter((i) => touching.has(i)).map((i) => placed[i]!);
  return concatRings(together.length ? [...alone, unionRings(concatRings(together))] : alone);
}
