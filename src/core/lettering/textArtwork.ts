import { computeBox, isEmptyBox, mapRings, type Rings } from '../base/rings';
import type { Curve } from '../guide/curve';
import type { OnGuide, TextInscription } from '../job/schema';
import { finishArtwork, type PlacedPiece } from './finishArtwork';
import { emptyArtwork, type InscriptionArtwork, type LetteringContext, type LetteringFault } from './inscriptionArtwork';
import { getLaidShape } from './glyphShapes';
import { withDrawing, type LaidPiece, type PieceLayer } from './layPieces';
import { findInkMiddle, layOnGuide } from './onGuide';
import { anchorFraction, createPlace, onGrid, stepOnGrid, toSheetPoints, toSheetReading, yOf } from './place';
import { computeSetting, type Setting } from './setting';
import type { Typeface } from './typeface';
import { resolveWords } from './words';

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
      return surface.periodMm === null ? null : 2 * Math.PI * radius - fit.gapMm;
    case 'guide':
      return curve ? curve.lengthMm - fit.gapMm : null;
    default:
      return null;
  }
}

/** The wording of an inscription, laid on the sheet. */
export function computeText(inscription: TextInscription, context: LetteringContext): InscriptionArtwork {
  const typeface = context.find(inscription.font);
  if (!typeface) return emptyArtwork(inscription);
  const { onGuide } = inscription;
  const curve = onGuide ? context.curve(onGuide.guideId) : null;
  const top = onGuide?.topGuideId ? context.curve(onGuide.topGuideId) : null;
  if (onGuide && (!curve || (onGuide.topGuideId && !top))) {
    return emptyArtwork(inscription, [{ kind: 'guide-empty', guide: curve ? onGuide.topGuideId! : onGuide.guideId }]);
  }
  const setter = createSetter(inscription, context, typeface, curve);
  const pieces: PlacedPiece[] = [];
  const pairs: [string, string][] = [];
  let first: LaidText | null = null;
  let overMm = 0;
  let group = -1;
  for (const { dx, dy, text } of listInstances(inscription, context.layer.surface.mmPerRad)) {
    const setting = setter.set(text);
    const laid: LaidText =
      onGuide && curve
        ? layAlongGuide(inscription, onGuide, setting, curve, top, context, dx, dy)
        : layOnLine(inscription, context, setting, dx, dy, first === null);
    group++;
    overMm = Math.max(overMm, laid.overMm);
    if (!first) {
      first = laid;
      pairs.push(...laid.collisions);
    }
    setting.glyphs.forEach((g, i) =>
      pieces.push({ char: g.char, cluster: g.cluster, group, laid: laid.placed[i]!, closed: g.typeface.kind === 'outline' }),
    );
  }
  const used = setter.used();
  const unknown = setter.unknown();
  const faults: LetteringFault[] = [];
  if (unknown.length > 0) faults.push({ kind: 'unknown-word', words: unknown });
  if (overMm > 1e-6) faults.push({ kind: 'off-guide', overMm });
  const missed = used.find((s) => s.missedMm !== null);
  if (missed) faults.push({ kind: 'fit-missed', wantedMm: missed.missedMm!, gotMm: missed.widthMm, tight: missed.tight });
  if (pairs.length > 0) faults.push({ kind: 'letters-collide', pairs });
  return finishArtwork(inscription, context, pieces, [], [], first?.frame ?? null, first?.reading ?? new Float64Array(6), {
    missing: [...new Set(used.flatMap((s) => s.missing))],
    fallbacks: [...new Set(used.flatMap((s) => s.fallbacks))],
    faults,
  });
}

/** One instance of a wording, laid: one piece a glyph. */
interface LaidText {
  placed: LaidPiece[];
  frame: Float64Array | null;
  reading: Float64Array;
  /** How far it runs past the end of its guide, mm, and which letters meet on it. */
  overMm: number;
  collisions: [string, string][];
}

/** Sets the texts of an inscription, each once, fitted as it asks. */
function createSetter(inscription: TextInscription, context: LetteringContext, typeface: Typeface, curve: Curve | null) {
  const { lay } = context.layer;
  const fallback = inscription.fallbackFont ? context.find(inscription.fallbackFont) : null;
  const settings = new Map<string, Setting>();
  const unknown = new Set<string>();
  const yMm = yOf(inscription, context);
  /** Where its line's length depends on where the line comes to stand, a text is set once more when that is known. */
  const fit = (text: string): Setting => {
    const by = (lineXMm: number): Setting => {
      const targetMm = findTarget(inscription, context, curve, lineXMm, yMm);
      return computeSetting(text, inscription, { typeface, fallback, cache: context.cache, targetMm });
    };
    let setting = by(inscription.at.xMm);
    if (lay.plain || inscription.onGuide || (inscription.fit.to !== 'turn' && inscription.fit.to !== 'angle')) return setting;
    for (let k = 0; k < 2; k++) setting = by(inscription.at.xMm + placeOf(inscription, setting, 0, 0)(0, 0).e);
    if (lay.byLetter) return setting;
    // A line that the lay lets sag goes round by less than its length says: its length is sought for which it goes round as asked.
    const lineXMm = inscription.at.xMm + placeOf(inscription, setting, 0, 0)(0, 0).e;
    const wanted = findTarget(inscription, context, curve, lineXMm, yMm);
    if (wanted === null || !(wanted > 0)) return setting;
    let targetMm = wanted;
    for (let k = 0; k < MAX_FITS; k++) {
      const round = measureRound(inscription, setting, context.layer, yMm);
      const share = round === null ? 1 : ((wanted / context.layer.surface.radiusAt(lineXMm, yMm)) * context.layer.surface.mmPerRad) / round;
      // A line that does not go round at all is left at its length.
      if (!(share < MAX_SAG) || Math.abs(share - 1) < 1e-6) break;
      targetMm *= share;
      setting = computeSetting(text, inscription, { typeface, fallback, cache: context.cache, targetMm });
    }
    return setting;
  };
  return {
    set(source: string): Setting {
      const words = resolveWords(source, context.variables, context.variables.piece, context.todayIso);
      words.unknown.forEach((w) => unknown.add(w));
      let setting = settings.get(words.text);
      if (!setting) settings.set(words.text, (setting = fit(words.text)));
      return setting;
    },
    used: (): Setting[] => [...settings.values()],
    unknown: (): string[] => [...unknown],
  };
}

/** How far the lines of a setting reach round the sheet, mm of sheet y; null where they leave the surface. */
function measureRound(inscription: TextInscription, setting: Setting, layer: PieceLayer, yMm: number): number | null {
  const place = placeOf(inscription, setting, 0, 0);
  const corners = [
    [0, 0],
    [setting.widthMm, 0],
    [0, setting.capHeightMm],
    [setting.widthMm, setting.capHeightMm],
  ].flatMap(([x, y]) => {
    const m = place(x!, y!);
    return [m.e, m.f];
  });
  const p = toSheetPoints(layer, [inscription.at.xMm, yMm], corners);
  return p && Math.max(Math.abs(p[3]! - p[1]!), Math.abs(p[7]! - p[5]!));
}

/** A line that sags goes round by no less than its length over this. */
const MAX_SAG = 1.5;
/** Most times a line's length is corrected until it goes round as asked. */
const MAX_FITS = 12;

/** Lower edge of a setting: its last baseline, mm. */
const bottomOf = (setting: Setting): number => -(setting.lineCount - 1) * setting.leadingMm;

/** A setting's own axes, its anchor at a place of the plane. */
function placeOf(inscription: TextInscription, setting: Setting, xAt: number, yAt: number) {
  const bottom = bottomOf(setting);
  const [fx, fy] = anchorFraction(inscription.anchor);
  return createPlace(inscription, xAt, yAt, fx * setting.widthMm, bottom + fy * (setting.capHeightMm - bottom));
}

function layAlongGuide(
  inscription: TextInscription,
  onGuide: OnGuide,
  setting: Setting,
  curve: Curve,
  top: Curve | null,
  { layer, cache }: LetteringContext,
  dx: number,
  dy: number,
): LaidText {
  const { placed, overMm, collisions, directions } = layOnGuide(setting, curve, top, onGuide, inscription.mirrored, layer, cache);
  const shift = { a: 1, b: 0, c: 0, d: 1, e: onGrid(dx), f: onGrid(dy) };
  const moved = dx || dy ? placed.map((p) => ({ ...p, rings: mapRings(p.rings, shift) })) : placed;
  const reading = readOnGuide(
    moved.map((p) => p.rings),
    directions,
  );
  return { placed: moved, frame: null, reading, overMm, collisions };
}

/** @param framed Whether its frame and reading are wanted. */
function layOnLine(
  inscription: TextInscription,
  context: LetteringContext,
  setting: Setting,
  dx: number,
  dy: number,
  framed: boolean,
): LaidText {
  const { layer } = context;
  const { plain } = layer.lay;
  const [xAt, yAt] = [inscription.at.xMm + dx, yOf(inscription, context) + dy];
  // On a true sheet the plane is the sheet itself, and places are those of the sheet to the last digit.
  const anchor = plain ? ([0, 0] as const) : ([xAt, yAt] as const);
  const place = plain ? placeOf(inscription, setting, xAt, yAt) : placeOf(inscription, setting, 0, 0);
  const placed = setting.glyphs.map((g) => {
    const own = place(g.xMm, g.yMm);
    // The foot of a letter: the middle of its ink, on its line.
    const foot = stepOnGrid(own, findInkMiddle(setting.glyphs, g), -g.row * setting.leadingMm - g.yMm);
    const shape = getLaidShape(context.cache, g, plain);
    return withDrawing(layer.layPiece(shape.rings, own, g.typeface.kind === 'outline', anchor, foot), shape);
  });
  if (!framed) return { placed, frame: null, reading: new Float64Array(6), overMm: 0, collisions: [] };
  const corners = [
    [0, bottomOf(setting)],
    [setting.widthMm, bottomOf(setting)],
    [setting.widthMm, setting.capHeightMm],
    [0, setting.capHeightMm],
  ].flatMap(([x, y]) => {
    const m = place(x!, y!);
    return [m.e, m.f];
  });
  const frame = toSheetPoints(layer, anchor, corners);
  return { placed, frame, reading: toSheetReading(layer, anchor, place(0, 0)), overMm: 0, collisions: [] };
}

/** Letters within this of each other's turn stand on a straight line, radians. */
const STRAIGHT_RAD = 0.05;

/** Reading on a guide: from the first inked letter towards the next, up by the letters' own turn; no up where that changes. */
function readOnGuide(placed: readonly Rings[], directions: readonly (readonly [number, number])[]): Float64Array {
  const inked = placed.map((r) => computeBox(r.xy)).filter((box) => !isEmptyBox(box));
  const first = inked[0],
    second = inked[inked.length > 1 ? 1 : 0];
  const own = directions[0];
  if (!first || !second || !own) return new Float64Array(6);
  const [x0, y0] = [(first.minX + first.maxX) / 2, (first.minY + first.maxY) / 2];
  const [dx, dy] = [(second.minX + second.maxX) / 2 - x0, (second.minY + second.maxY) / 2 - y0];
  const length = Math.hypot(dx, dy);
  const straight = directions.every(([x, y]) => x * own[0] + y * own[1] > Math.cos(STRAIGHT_RAD));
  const up = straight ? [-own[1], own[0]] : [0, 0];
  return Float64Array.from([x0, y0, ...(length > 0 ? [dx / length, dy / length] : own), ...up]);
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
