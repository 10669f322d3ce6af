import { err, type Result } from '../base/result';
import { healSoup, type ShapeError, type ShapeProgress } from './heal';
import { readObj } from './obj';
import type { ShapeMesh } from './shapeMesh';
import { readStep, type StepReader } from './step';
import { readStl } from './stl';

/** Largest file taken, bytes. */
export const MAX_SHAPE_BYTES = 200_000_000;

export type ShapeFormat = 'stl' | 'obj' | 'step';

/** What kind of shape a file is, by its beginning, or else by its name. */
export function detectShapeFormat(bytes: Uint8Array, name: string): ShapeFormat | null {
  const head = new TextDecoder().decode(bytes.subarray(0, 400));
  if (head.includes('ISO-10303-21')) return 'step';
  const extension = /\.([a-z]+)$/i.exec(name)?.[1]?.toLowerCase();
  if (extension === 'stl') return 'stl';
  if (extension === 'obj') return 'obj';
  if (extension === 'stp' || extension === 'step') return 'step';
  if (/^\s*solid\b/i.test(head)) return 'stl';
  if (/^\s*(#.*\n\s*)*(v|o|g|mtllib)\s/.test(head)) return 'obj';
  return null;
}

/**
 * Reads and heals a shape.
 * @param getStepReader Called only for a STEP file.
 * @param onProgress Share of the whole, 0 to 1; may throw to stop.
 */
export async function readShape(
  bytes: Uint8Array,
  name: string,
  getStepReader: () => Promise<StepReader>,
  onProgress: ShapeProgress = () => undefined,
): Promise<Result<ShapeMesh, ShapeError>> {
  if (bytes.length === 0) return err({ kind: 'empty', what: 'it is 0 bytes long' });
  if (bytes.length > MAX_SHAPE_BYTES) return err({ kind: 'notReadable', what: `it is larger than ${MAX_SHAPE_BYTES / 1e6} MB` });
  const format = detectShapeFormat(bytes, name);
  if (!format) return err({ kind: 'notReadable', what: 'it is no STL, OBJ or STEP file' });
  const reading: ShapeProgress = (share) => onProgress(0.5 * share);
  const soup =
    format === 'stl'
      ? readStl(bytes, reading)
      : format === 'obj'
        ? readObj(new TextDecoder().decode(bytes), reading)
        : readStep(bytes, await getStepReader());
  if (!soup.ok) return soup;
  return healSoup(soup.value, (share) => onProgress(0.5 + 0.5 * share));
}

const MAGIC = 0x4c424f48;
const PACK_VERSION = 1;

/** A healed shape as bytes for keeping: a header, Float64 places, Uint32 triangles, Int32 neighbours, the report as JSON. Little-endian. */
export function packShape(mesh: ShapeMesh): Uint8Array {
  const report = new TextEncoder().encode(JSON.stringify(mesh.report));
  const bytes = new Uint8Array(24 + mesh.positions.byteLength + mesh.triangles.byteLength + mesh.neighbours.byteLength + report.length);
  const head = new DataView(bytes.buffer);
  [MAGIC, PACK_VERSION, mesh.positions.length, mesh.triangles.length, report.length, 0].forEach((v, k) => head.setUint32(4 * k, v, true));
  let at = 24;
  for (const part of [mesh.positions, mesh.triangles, mesh.neighbours]) {
    bytes.set(new Uint8Array(part.buffer, part.byteOffset, part.byteLength), at);
    at += part.byteLength;
  }
  bytes.set(report, at);
  return bytes;
}

/** The shape that `packShape` wrote; null for anything else. */
export function unpackShape(bytes: Uint8Array): ShapeMesh | null {
  if (bytes.length < 24) return null;
  const head = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const [magic, version, places, corners, reportBytes] = [0, 1, 2, 3, 4].map((k) => head.getUint32(4 * k, true)) as [
    number,
    number,
    number,
    number,
    number,
  ];
  if (magic !== MAGIC || version !== PACK_VERSION || bytes.length !== 24 + 8 * places + 8 * corners + reportBytes) return null;
  // Copied, so that the arrays stand on their own and on the right boundary.
  const copy = bytes.slice(24).buffer;
  return {
    positions: new Float64Array(copy, 0, places),
    triangles: new Uint32Array(copy, 8 * places, corners),
    neighbours: new Int32Array(copy, 8 * places + 4 * corners, corners),
    report: JSON.parse(new TextDecoder().decode(bytes.slice(24 + 8 * places + 8 * corners))) as ShapeMesh['report'],
  };
}
