import DxfParser from 'dxf-parser';
import { err, ok, type Result } from '../base/result';
import { flattenBulge, flattenEllipse, flattenSpline } from './flattenCurves';
import {
  ImportStop,
  MAX_DEPTH,
  MAX_ELEMENTS,
  MAX_IMPORT_BYTES,
  type ImportedDrawing,
  type ImportError,
  type ImportedLine,
  type OnImportProgress,
} from './drawing';
import { IDENTITY, multiply, type Matrix } from './svgTransform';

/** $INSUNITS → mm. Source: DXF Reference, HEADER variables (from memory). */
const UNIT_MM: Record<number, number> = { 1: 25.4, 2: 304.8, 4: 1, 5: 10, 6: 1000, 8: 2.54e-5, 9: 0.0254, 10: 914.4, 13: 0.001, 14: 100 };

interface Point {
  x: number;
  y: number;
  z?: number;
}
/** The fields of an entity that are read here; which are there depends on its type. */
interface Entity {
  type: string;
  layer?: string;
  vertices?: (Point & { bulge?: number })[];
  shape?: boolean;
  center?: Point;
  radius?: number;
  startAngle?: number;
  endAngle?: number;
  majorAxisEndPoint?: Point;
  axisRatio?: number;
  controlPoints?: Point[];
  fitPoints?: Point[];
  knotValues?: number[];
  degreeOfSplineCurve?: number;
  closed?: boolean;
  rational?: boolean;
  name?: string;
  position?: Point;
  xScale?: number;
  yScale?: number;
  rotation?: number;
  columnCount?: number;
  rowCount?: number;
  columnSpacing?: number;
  rowSpacing?: number;
  extrusionDirection?: Point;
  extrusionDirectionZ?: number;
}
interface Drawing {
  header?: Record<string, unknown>;
  entities?: Entity[];
  blocks?: Record<string, { position?: Point; entities?: Entity[] }>;
}

/**
 * Reads a DXF: LINE, ARC, CIRCLE, LWPOLYLINE with bulge, POLYLINE, ELLIPSE, SPLINE and INSERT, layers, $INSUNITS. All else is
 * reported.
 * @param unitMm Size of a drawing unit for a file that does not say it, mm.
 * @param toleranceMm Largest chord error, mm.
 * O(entities, counting each use of a block).
 */
export function readDxf(
  text: string,
  unitMm: number,
  toleranceMm: number,
  onProgress: OnImportProgress = () => undefined,
): Result<ImportedDrawing, ImportError> {
  if (text.length > MAX_IMPORT_BYTES) return err({ kind: 'tooLarge', bytes: text.length, limitBytes: MAX_IMPORT_BYTES });
  let drawing: Drawing | null;
  try {
    drawing = new DxfParser().parseSync(text) as unknown as Drawing | null;
  } catch (error) {
    return err({ kind: 'notReadable', what: `it is no DXF text (${(error as Error).message})` });
  }
  if (!drawing?.entities) return err({ kind: 'notReadable', what: 'it has no ENTITIES section' });
  onProgress(0.5);
  const declared = UNIT_MM[Number(drawing.header?.$INSUNITS)];
  const notes: string[] = declared === undefined ? [`no units: one drawing unit was taken as ${unitMm} mm`] : [];
  const k = declared ?? unitMm;
  const lines: ImportedLine[] = [];
  const layers: string[] = [];
  const ignored = new Map<string, number>();
  const ignore = (what: string) => void ignored.set(what, (ignored.get(what) ?? 0) + 1);
  let count = 0;

  const add = (entity: Entity, layer: string, xy: number[], closed: boolean, m: Matrix): void => {
    const out: number[] = [];
    // An entity drawn from behind is mirrored. Source: DXF Reference, object coordinate system (from memory).
    const flip = (entity.extrusionDirection?.z ?? entity.extrusionDirectionZ ?? 1) < 0 ? -1 : 1;
    for (let i = 0; i < xy.length; i += 2) {
      const x = flip * xy[i]!,
        y = xy[i + 1]!;
      out.push(k * (m[0] * x + m[2] * y + m[4]), k * (m[1] * x + m[3] * y + m[5]));
    }
    if (out.length < 4) return;
    if (!out.every(Number.isFinite)) return ignore('entities with a number that is none were left out');
    if (!layers.includes(layer)) layers.push(layer);
    lines.push({ layer, xy: out, closed, fill: null });
  };

  const draw = (entity: Entity, m: Matrix, outerLayer: string | null, depth: number, within: readonly string[]): void => {
    if (++count > MAX_ELEMENTS)
      throw new ImportStop({ kind: 'tooMany', what: 'entities, counting each use of a block', limit: MAX_ELEMENTS });
    if (count % 1000 === 0) onProgress(0.5 + 0.5 * Math.min(1, count / Math.max(1, drawing!.entities!.length)));
    const layer = entity.layer && entity.layer !== '0' ? entity.layer : (outerLayer ?? entity.layer ?? '0');
    const tolerance = toleranceMm / (k * Math.max(1e-9, Math.hypot(m[0], m[1])));
    const c = entity.center,
      v = entity.vertices;
    switch (entity.type) {
      case 'LINE':
        if (v && v.length >= 2) add(entity, layer, [v[0]!.x, v[0]!.y, v[1]!.x, v[1]!.y], false, m);
        return;
      case 'LWPOLYLINE':
      case 'POLYLINE': {
        if (!v || v.length < 2) return ignore('polylines with fewer than two points were left out');
        const xy = [v[0]!.x, v[0]!.y];
        const n = entity.shape ? v.length : v.length - 1;
        for (let i = 0; i < n; i++) flattenBulge(xy, v[i]!, v[(i + 1) % v.length]!, v[i]!.bulge ?? 0, tolerance);
        if (entity.shape) xy.length -= 2;
        return add(entity, layer, xy, Boolean(entity.shape), m);
      }
      case 'CIRCLE':
        if (c && entity.radius! > 0)
          add(entity, layer, flattenEllipse(c, { x: entity.radius!, y: 0 }, 1, 0, 2 * Math.PI, tolerance).slice(0, -2), true, m);
        return;
      case 'ARC':
        if (c && entity.radius! > 0)
          add(entity, layer, flattenEllipse(c, { x: entity.radius!, y: 0 }, 1, entity.startAngle!, entity.endAngle!, tolerance), false, m);
        return;
      case 'ELLIPSE': {
        if (!c || !entity.majorAxisEndPoint) return;
        const sweep = entity.endAngle! - entity.startAngle!;
        const whole = Math.abs(Math.abs(sweep) - 2 * Math.PI) < 1e-9 || sweep === 0;
        const xy = flattenEllipse(
          c,
          entity.majorAxisEndPoint,
          entity.axisRatio ?? 1,
          entity.startAngle!,
          whole ? entity.startAngle! + 2 * Math.PI : entity.endAngle!,
          tolerance,
        );
        return add(entity, layer, whole ? xy.slice(0, -2) : xy, whole, m);
      }
      case 'SPLINE': {
        if (entity.rational) ignore('rational splines were read without their weights: check their shape');
        const points = entity.controlPoints?.length ? entity.controlPoints : (entity.fitPoints ?? []);
        const xy = flattenSpline(
          points,
          entity.degreeOfSplineCurve ?? 3,
          entity.controlPoints?.length ? (entity.knotValues ?? []) : [],
          tolerance,
        );
        return add(entity, layer, xy, Boolean(entity.closed), m);
      }
      case 'INSERT': {
        const block = entity.name ? drawing!.blocks?.[entity.name] : undefined;
        if (!block?.entities) return ignore('inserts of a block that is not there were left out');
        if (within.includes(entity.name!) || depth >= MAX_DEPTH) return ignore('blocks that lead back to themselves were left out');
        const a = ((entity.rotation ?? 0) * Math.PI) / 180;
        const sx = entity.xScale ?? 1,
          sy = entity.yScale ?? 1;
        for (let row = 0; row < Math.max(1, entity.rowCount ?? 1); row++)
          for (let column = 0; column < Math.max(1, entity.columnCount ?? 1); column++) {
            const turn: Matrix = [Math.cos(a), Math.sin(a), -Math.sin(a), Math.cos(a), entity.position?.x ?? 0, entity.position?.y ?? 0];
            const place: Matrix = [
              sx,
              0,
              0,
              sy,
              column * (entity.columnSpacing ?? 0) - sx * (block.position?.x ?? 0),
              row * (entity.rowSpacing ?? 0) - sy * (block.position?.y ?? 0),
            ];
            const inner = multiply(multiply(m, turn), place);
            for (const child of block.entities) draw(child, inner, layer, depth + 1, [...within, entity.name!]);
          }
        return;
      }
      default:
        return ignore(`${entity.type} entities were left out`);
    }
  };
  try {
    for (const entity of drawing.entities) draw(entity, IDENTITY, null, 0, []);
  } catch (error) {
    if (error instanceof ImportStop) return err(error.error);
    throw error;
  }
  for (const [what, n] of ignored) notes.push(`${n} ${what}`);
  return ok({ lines, layers, notes });
}
