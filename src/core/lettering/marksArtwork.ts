import { emptyRings, packRings, type Affine, type Rings } from '../base/rings';
import { MAX_MARKS, type SeriesInscription } from '../job/schema';
import { finishArtwork, type PlacedPiece } from './finishArtwork';
import { emptyArtwork, type InscriptionArtwork, type LetteringContext, type LetteringFault } from './inscriptionArtwork';
import { withDrawing } from './layPieces';
import { toSheetReading, yOf } from './place';
import { computeSeries } from './seriesArtwork';
import { resolveWords } from './words';

const UNMOVED: Affine = { a: 1, b: 0, c: 0, d: 1, e: 0, f: 0 };

/** A series with the words in braces of its labels resolved. */
function resolveLabels(source: SeriesInscription, { variables, todayIso }: LetteringContext) {
  const unknown = new Set<string>();
  const resolve = (text: string): string => {
    const words = resolveWords(text, variables, variables.piece, todayIso);
    words.unknown.forEach((w) => unknown.add(w));
    return words.text;
  };
  const { prefix, suffix, list } = source.labels;
  const labels = { ...source.labels, prefix: resolve(prefix), suffix: resolve(suffix), list: list.map(resolve) };
  return { inscription: { ...source, labels }, unknown: [...unknown] };
}

/** The marks and labels of a series, laid on the sheet. */
export function computeMarks(source: SeriesInscription, context: LetteringContext): InscriptionArtwork {
  const { inscription, unknown } = resolveLabels(source, context);
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
    lay.plain,
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
    group: l.mark,
    closed: l.closed,
    laid: withDrawing(lay1(l.shape.rings, l.place, l.closed, l.foot), l.shape),
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
        if (!laid.lands) pieces.push({ char: '|', cluster: -1, group: -1, closed, laid: { ...laid, rings: emptyRings() } });
      }
    }
  }
  const e = shapes.ends;
  const faults: LetteringFault[] = [];
  if (unknown.length > 0) faults.push({ kind: 'unknown-word', words: unknown });
  if (shapes.doubled > 0) faults.push({ kind: 'marks-double', count: shapes.doubled });
  if (shapes.unlabelled > 0) faults.push({ kind: 'labels-short', count: shapes.unlabelled });
  if (inscription.table.length) {
    const [low, high] = [Math.min(...inscription.table.map((t) => t.value)), Math.max(...inscription.table.map((t) => t.value))];
    const values = [inscription.from, inscription.to].filter((v) => v < low - 1e-9 || v > high + 1e-9).length;
    if (values) faults.push({ kind: 'outside-table', values });
  }
  const own = shapes.labels[0]?.place;
  const alike = own !== undefined && shapes.labels.every(({ place: m }) => m.c * own.c + m.d * own.d > 0.999);
  const reading = toSheetReading(layer, anchor, { a: e[2]!, b: e[3]!, c: own?.c ?? 0, d: own?.d ?? 0, e: e[0]!, f: e[1]! });
  // Marks alone, and labels that turn as they go, have no way that is up.
  if (!alike) reading.fill(0, 4);
  return finishArtwork(inscription, context, pieces, regions, chains, null, reading, { missing: shapes.missing, fallbacks: [], faults });
}
