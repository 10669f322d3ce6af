import { unionRings } from '../base/boolean';
import { computeBox, emptyRings, isEmptyBox, joinBoxes, mapRings, packRings, type Affine, type Rings } from '../base/rings';
import type { ArtworkInscription } from '../job/schema';
import { finishArtwork, type PlacedPiece } from './finishArtwork';
import { emptyArtwork, type InscriptionArtwork, type LetteringContext } from './inscriptionArtwork';
import { anchorFraction, createPlace, toSheetPoints, toSheetReading, yOf } from './place';
import { EMPTY_BOX } from './setting';

/** Imported artwork, laid on the sheet whole. */
export function computeImported(inscription: ArtworkInscription, context: LetteringContext): InscriptionArtwork {
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
    return finishArtwork(
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
      ? [
          {
            char: name,
            cluster: 0,
            group: 0,
            closed: closed as boolean,
            laid: layer.layPiece(own1, scaled, closed as boolean, anchor, [0, 0]),
          },
        ]
      : [];
  });
  for (const p of pieces) if (p.closed) p.laid = { ...p.laid, rings: unionRings(p.laid.rings) };
  return finishArtwork(inscription, context, pieces, [], [], frame, reading, rest);
}
