import { emptyRings, packRings, type Affine, type Rings } from '../base/rings';
import { MAX_MARKS, type SeriesInscription } from '../job/schema';
import { finishArtwork, type PlacedPiece } from './finishArtwork';
import { emptyArtwork, type InscriptionArtwork, type LetteringContext, type LetteringFault } from './inscriptionArtwork';
import { withDrawing } from './layPieces';
import { toSheetReading, yOf } from './place';
import { computeSeries } from './seriesArtwork';

const UNMOVED: Affine = { a: 1, b: 0, c: 0, d: 1, e: 0, f: 0 };

/** The marks and labels of a series, laid on the sheet. */
export function computeMarks(inscription: SeriesInscription, context: LetteringContext): InscriptionArtwork {
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
  return finishArtwork(inscription, context, pieces, regions, chains, null, reading, { missing: shapes.missing, fallbacks: [], faults });
}
