import DxfParser from 'dxf-parser';
import { err, ok, type Result } from '../base/result';
import { flattenCubic } from '../lettering/flatten';
import { countEntities, readWhole } from './dxfGroups';
import { flattenBulge, flattenEllipse } from './flattenCurves';
import { flattenSpline, interpolate } from './spline';
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

/** $INSUNITS → mm, from inches to US survey miles. Source: DXF Reference, HEADER variables (from memory). */
const UNIT_MM: Record<number, number> = {
  1: 25.4,
  2: 304.8,
  3: 1609344,
  4: 1,
  5: 10,
  6: 1000,
  7: 1e6,
  8: 2.54e-5,
  9: 0.0254,
  10: 914.4,
  11: 1e-7,
  12: 1e-6,
  13: 0.001,
  14: 100,
  15: 1e4,
  16: 1e5,
  17: 1e12,
  21: 1200000 / 3937,
  22: 100000 / 3937,
  23: 3600000 / 3937,
  24: 5280 * (1200000 / 3937),
};

interface Point {
  x: number;
  y: number;
  z?: number;
}
/** The fields of an entity that are read here; which are there depends on its type. */
interface Entity {
  type: string;
  layer?: string;
  vertices?: (Point & { bulge?: number; splineControlPoint?: boolean })[];
  shape?: boolean;
  is3dPolyline?: boolean;
  is3dPolygonMesh?: boolean;
  isPolyfaceMesh?: boolean;
  extrusionDirection?: Point;
  extrusionDirectionX?: number;
  extrusionDirectionY?: number;
  extrusionDirectionZ?: number;
  name?: string;
  /** All groups by code, of the entities that are read whole. */
  groups?: Map<number, number[]>;
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
    const parser = new DxfParser();
    readWhole(parser);
    drawing = parser.parseSync(text) as unknown as Drawing | null;
  } catch (error) {
    return err({ kind: 'notReadable', what: `it is no DXF text (${(error as Error).message})` });
  }
  if (!drawing?.entities) return err({ kind: 'notReadable', what: 'it has no ENTITIES section' });
  onProgress(0.5);
  const unit = Number(drawing.header?.$INSUNITS ?? 0);
  const declared = UNIT_MM[unit];
  const notes: string[] = [];
  if (declared === undefined) {
    notes.push(`${unit > 0 ? `units of a kind unknown here ($INSUNITS ${unit})` : 'no units'}: one drawing unit was taken as ${unitMm} mm`);
  }
  const k = declared ?? unitMm;
  const lines: ImportedLine[] = [];
  const layers: string[] = [];
  const ignored = new Map<string, number>();
  const ignore = (what: string) => void ignored.set(what, (ignored.get(what) ?? 0) + 1);
  let count = 0;

  const add = (layer: string, xy: number[], closed: boolean, m: Matrix): void => {
    const out: number[] = [];
    for (let i = 0; i < xy.length; i += 2) {
      const x = xy[i]!,
        y = xy[i + 1]!;
      out.push(k * (m[0] * x + m[2] * y + m[4]), k * (m[1] * x + m[3] * y + m[5]));
    }
    if (out.length < 4) return;
    if (!out.every(Number.isFinite)) return ignore('entities with a number that is none were left out');
    if (!layers.includes(layer)) layers.push(layer);
    lines.push({ layer, xy: out, closed, fill: null });
  };
  /** The plane an entity lies in, seen from above. */
  const planeOf = (entity: Entity): Matrix => {
    const [x, y, z] = normalOf(entity);
    if (Math.abs(z) < 1 - 1e-9) ignore('entities in a tilted plane were projected on to the drawing');
    return toPlane(x, y, z);
  };

  const draw = (entity: Entity, m: Matrix, outerLayer: string | null, depth: number, within: readonly string[]): void => {
    if (++count > MAX_ELEMENTS)
      throw new ImportStop({ kind: 'tooMany', what: 'entities, counting each use of a block', limit: MAX_ELEMENTS });
    if (count % 1000 === 0) onProgress(0.5 + 0.5 * Math.min(1, count / Math.max(1, drawing!.entities!.length)));
    const layer = entity.layer && entity.layer !== '0' ? entity.layer : (outerLayer ?? entity.layer ?? '0');
    const tolerance = toleranceMm / (k * Math.max(1e-9, Math.hypot(m[0], m[1])));
    const v = entity.vertices;
    const one = (code: number, otherwise = 0): number => entity.groups?.get(code)?.[0] ?? otherwise;
    switch (entity.type) {
      // Lines, ellipses and splines are in the drawing's own coordinates, whatever their plane; the others are in their plane's.
      case 'LINE':
        if (v && v.length >= 2) add(layer, [v[0]!.x, v[0]!.y, v[1]!.x, v[1]!.y], false, m);
        return;
      case 'LWPOLYLINE':
      case 'POLYLINE': {
        if (entity.is3dPolygonMesh || entity.isPolyfaceMesh) return ignore('meshes were left out');
        // The frame that a splined polyline was made from is kept in the file beside the curve.
        const own = (v ?? []).filter((p) => !p.splineControlPoint);
        if (own.length < 2) return ignore('polylines with fewer than two points were left out');
        const xy = [own[0]!.x, own[0]!.y];
        const n = entity.shape ? own.length : own.length - 1;
        for (let i = 0; i < n; i++) flattenBulge(xy, own[i]!, own[(i + 1) % own.length]!, own[i]!.bulge ?? 0, tolerance);
        if (entity.shape) xy.length -= 2;
        return add(layer, xy, Boolean(entity.shape), entity.is3dPolyline ? m : multiply(m, planeOf(entity)));
      }
      case 'CIRCLE':
      case 'ARC': {
        if (!(one(40) > 0)) return;
        const whole = entity.type === 'CIRCLE';
        const [from, to] = whole ? [0, 2 * Math.PI] : [one(50) / DEG, one(51) / DEG];
        const xy = flattenEllipse({ x: one(10), y: one(20) }, { x: one(40), y: 0 }, 1, from, to, tolerance);
        return add(layer, whole ? xy.slice(0, -2) : xy, whole, multiply(m, planeOf(entity)));
      }
      case 'ELLIPSE': {
        const [from, to] = [one(41), one(42, 2 * Math.PI)];
        const whole = Math.abs(Math.abs(to - from) - 2 * Math.PI) < 1e-9 || to === from;
        // Seen from behind it runs the other way round.
        const sense = normalOf(entity)[2] < 0 ? -1 : 1;
        const major = { x: one(11), y: one(21) };
        const [a, b] = sense < 0 ? [-to, -from] : [from, to];
        const xy = flattenEllipse({ x: one(10), y: one(20) }, major, one(40, 1), whole ? 0 : a, whole ? 2 * Math.PI : b, tolerance);
        return add(layer, whole ? xy.slice(0, -2) : xy, whole, m);
      }
      case 'SPLINE':
        return add(layer, drawSpline(entity.groups ?? new Map<number, number[]>(), tolerance, ignore), (one(70) & 1) !== 0, m);
      case 'INSERT': {
        const block = entity.name ? drawing!.blocks?.[entity.name] : undefined;
        if (!block?.entities) return ignore('inserts of a block that is not there were left out');
        if (within.includes(entity.name!) || depth >= MAX_DEPTH) return ignore('blocks that lead back to themselves were left out');
        const a = one(50) / DEG;
        const [sx, sy] = [one(41, 1), one(42, 1)];
        const plane = multiply(m, planeOf(entity));
        for (let row = 0; row < Math.max(1, one(71, 1)); row++) {
          for (let column = 0; column < Math.max(1, one(70, 1)); column++) {
            const turn: Matrix = [Math.cos(a), Math.sin(a), -Math.sin(a), Math.cos(a), one(10), one(20)];
            const place: Matrix = [
              sx,
              0,
              0,
              sy,
              column * one(44) - sx * (block.position?.x ?? 0),
              row * one(45) - sy * (block.position?.y ?? 0),
            ];
            const inner = multiply(multiply(plane, turn), place);
            for (const child of block.entities) draw(child, inner, layer, depth + 1, [...within, entity.name!]);
          }
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
  for (const [name, n] of countEntities(text)) if (!PARSED.has(name)) ignored.set(`${name} entities were left out`, n);
  for (const [what, n] of ignored) notes.push(`${n} ${what}`);
  return ok({ lines, layers, notes });
}

const DEG = 180 / Math.PI;
/** Entities that the parser gives, drawn here or named as left out; what else the file holds it passes over. */
const PARSED = new Set(
  ['LINE', 'LWPOLYLINE', 'POLYLINE', 'CIRCLE', 'ARC', 'ELLIPSE', 'SPLINE', 'INSERT'].concat([
    '3DFACE',
    'ATTDEF',
    'DIMENSION',
    'MTEXT',
    'POINT',
    'SOLID',
    'TEXT',
  ]),
);

/** Normal of the plane an entity lies in, unit. */
function normalOf({ groups, extrusionDirection: e, ...rest }: Entity): [number, number, number] {
  const n = groups
    ? [210, 220, 230].map((code, i) => groups.get(code)?.[0] ?? (i === 2 ? 1 : 0))
    : [e?.x ?? rest.extrusionDirectionX ?? 0, e?.y ?? rest.extrusionDirectionY ?? 0, e?.z ?? rest.extrusionDirectionZ ?? 1];
  const length = Math.hypot(...n) || 1;
  return n.map((v) => v / length) as [number, number, number];
}

/**
 * From the coordinates of a plane to those of the drawing, seen from above. Source: DXF Reference, arbitrary axis algorithm (from
 * memory): x runs along Y × N where N is within 1/64 of Z, else along Z × N.
 */
function toPlane(nx: number, ny: number, nz: number): Matrix {
  const near = Math.abs(nx) < 1 / 64 && Math.abs(ny) < 1 / 64;
  const [ax, ay, az] = near ? [nz, 0, -nx] : [-ny, nx, 0];
  const length = Math.hypot(ax, ay, az);
  const [x, y, z] = [ax / length, ay / length, az / length];
  return [x, y, ny * z - nz * y, nz * x - nx * z, 0, 0];
}

/** Points of a spline: by its poles, weights and knots, or else through its fit points. */
function drawSpline(groups: ReadonlyMap<number, number[]>, tolerance: number, ignore: (what: string) => void): number[] {
  const list = (code: number): number[] => groups.get(code) ?? [];
  const pair = (x: number, y: number): [number, number][] => list(x).map((v, i) => [v, list(y)[i] ?? 0]);
  const weights = list(41);
  const poles = pair(10, 20).map(([x, y], i) => [x, y, weights[i] ?? 1] as const);
  const fit = pair(11, 21);
  const drawn = flattenSpline({ degree: list(71)[0] ?? 3, knots: list(40), poles }, tolerance);
  if (drawn) return drawn;
  if (fit.length >= 2) {
    ignore('splines given by the places they pass through were drawn smoothly through them');
    const [start, end] = [pair(12, 22)[0] ?? null, pair(13, 23)[0] ?? null];
    const out = [...fit[0]!];
    for (const p of interpolate(fit, start, end)) flattenCubic(out, p, tolerance);
    return out;
  }
  if (poles.length >= 2) ignore('splines whose knots do not fit their points were joined straight: check their shape');
  return poles.flatMap(([x, y]) => [x, y]);
}
