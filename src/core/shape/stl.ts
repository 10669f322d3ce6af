import { err, ok, type Result } from '../base/result';
import { MAX_TRIANGLES, type ShapeError, type ShapeProgress, type TriangleSoup } from './heal';

const HEADER_BYTES = 84;
const RECORD_BYTES = 50;

/**
 * Reads an STL, binary or text. A binary file is known by its length, which its count of triangles fixes; only then does the
 * word `solid` at its head make it a text, since some writers begin binary files with it.
 * Source: the StereoLithography interface specification, 3D Systems, 1989 (from memory).
 */
export function readStl(bytes: Uint8Array, onProgress: ShapeProgress = () => undefined): Result<TriangleSoup, ShapeError> {
  if (bytes.length >= HEADER_BYTES) {
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    const count = view.getUint32(80, true);
    const needed = HEADER_BYTES + RECORD_BYTES * count;
    const isText = startsWithSolid(bytes) && looksLikeText(bytes);
    if (count > 0 && (bytes.length === needed || (!isText && bytes.length >= needed))) {
      if (count > MAX_TRIANGLES) return err({ kind: 'tooMany', count });
      return ok({ corners: readBinary(view, count, onProgress) });
    }
    if (!isText) {
      if (count === 0 && bytes.length === HEADER_BYTES) return err({ kind: 'empty', what: 'it says it has 0 triangles' });
      if (!startsWithSolid(bytes)) {
        return err({
          kind: 'notReadable',
          what: `it ends after ${bytes.length.toLocaleString('en-GB')} bytes, and ${count.toLocaleString('en-GB')} triangles need ${needed.toLocaleString('en-GB')}`,
        });
      }
    }
  }
  return readText(bytes, onProgress);
}

const startsWithSolid = (bytes: Uint8Array): boolean => /^\s*solid/i.test(String.fromCharCode(...bytes.subarray(0, 80)));

/** No control characters but line ends and tabs in its first kilobytes. */
function looksLikeText(bytes: Uint8Array): boolean {
  for (let i = 0; i < Math.min(bytes.length, 4096); i++) {
    const b = bytes[i]!;
    if (b === 0 || (b < 32 && b !== 9 && b !== 10 && b !== 13)) return false;
  }
  return true;
}

function readBinary(view: DataView, count: number, onProgress: ShapeProgress): Float32Array {
  const corners = new Float32Array(9 * count);
  for (let i = 0; i < count; i++) {
    const at = HEADER_BYTES + RECORD_BYTES * i + 12;
    for (let k = 0; k < 9; k++) corners[9 * i + k] = view.getFloat32(at + 4 * k, true);
    if ((i & 0xffff) === 0) onProgress(i / count);
  }
  return corners;
}

/** Text: `vertex x y z` lines, three a facet. All else is passed over. Numbers are taken straight off the bytes. */
function readText(bytes: Uint8Array, onProgress: ShapeProgress): Result<TriangleSoup, ShapeError> {
  const corners: number[] = [];
  const n = bytes.length;
  let i = 0,
    seen = 0,
    line = 1;
  while (i < n) {
    // "vertex" in either case.
    if (
      (bytes[i]! | 32) === 118 &&
      (bytes[i + 1]! | 32) === 101 &&
      (bytes[i + 2]! | 32) === 114 &&
      (bytes[i + 3]! | 32) === 116 &&
      (bytes[i + 4]! | 32) === 101 &&
      (bytes[i + 5]! | 32) === 120
    ) {
      i += 6;
      for (let k = 0; k < 3; k++) {
        while (i < n && (bytes[i] === 32 || bytes[i] === 9)) i++;
        const from = i;
        while (i < n && bytes[i]! > 32) i++;
        const value = parseNumber(bytes, from, i);
        if (!Number.isFinite(value)) return err({ kind: 'notReadable', what: `line ${line} has a vertex without three numbers` });
        corners.push(value);
      }
      if (corners.length > 9 * MAX_TRIANGLES) return err({ kind: 'tooMany', count: corners.length / 9 });
      if ((++seen & 0xffff) === 0) onProgress(i / n);
    } else {
      if (bytes[i] === 10) line++;
      i++;
    }
  }
  if (corners.length === 0) {
    return startsWithSolid(bytes)
      ? err({ kind: 'empty', what: 'it is a text STL without a facet' })
      : err({ kind: 'notReadable', what: 'it is neither a binary nor a text STL' });
  }
  if (corners.length % 9 !== 0)
    return err({ kind: 'notReadable', what: 'its last facet has fewer than three vertices: the file was cut off' });
  return ok({ corners: Float64Array.from(corners) });
}

/** A decimal number from bytes; NaN if it is none. Plain digits go fast, all else by the language. */
function parseNumber(bytes: Uint8Array, from: number, to: number): number {
  if (to <= from) return NaN;
  let i = from,
    sign = 1,
    mantissa = 0,
    scale = 0,
    digits = 0,
    exponent = 0;
  if (bytes[i] === 45 || bytes[i] === 43) sign = bytes[i++] === 45 ? -1 : 1;
  for (; i < to && bytes[i]! >= 48 && bytes[i]! <= 57; i++, digits++) mantissa = 10 * mantissa + bytes[i]! - 48;
  if (bytes[i] === 46 && i < to) {
    for (i++; i < to && bytes[i]! >= 48 && bytes[i]! <= 57; i++, digits++, scale++) mantissa = 10 * mantissa + bytes[i]! - 48;
  }
  if (i < to && (bytes[i]! | 32) === 101 && digits > 0) {
    i++;
    let negative = false,
      any = false;
    if (bytes[i] === 45 || bytes[i] === 43) negative = bytes[i++] === 45;
    for (; i < to && bytes[i]! >= 48 && bytes[i]! <= 57; i++, any = true) exponent = 10 * exponent + bytes[i]! - 48;
    if (!any) return NaN;
    if (negative) exponent = -exponent;
  }
  if (i !== to || digits === 0) return NaN;
  const power = exponent - scale;
  // Exact as long as mantissa and power are; beyond, the language rounds better than we would.
  if (digits > 15 || power > 22 || power < -22) return Number(String.fromCharCode(...bytes.subarray(from, to)));
  return sign * (power < 0 ? mantissa / 10 ** -power : mantissa * 10 ** power);
}

/** Writes triangles as binary STL. O(triangles). */
export function writeStl(positions: ArrayLike<number>, triangles: ArrayLike<number>, title: string): Uint8Array {
  const count = triangles.length / 3;
  const bytes = new Uint8Array(HEADER_BYTES + RECORD_BYTES * count);
  const view = new DataView(bytes.buffer);
  const header = title.replace(/[^\x20-\x7e]/g, '').slice(0, 79);
  for (let i = 0; i < header.length; i++) bytes[i] = header.charCodeAt(i);
  view.setUint32(80, count, true);
  for (let f = 0; f < count; f++) {
    const at = HEADER_BYTES + RECORD_BYTES * f;
    const v = [0, 1, 2].map((k) => 3 * triangles[3 * f + k]!);
    const p = v.map((o) => [positions[o]!, positions[o + 1]!, positions[o + 2]!]);
    const u = [0, 1, 2].map((k) => p[1]![k]! - p[0]![k]!),
      w = [0, 1, 2].map((k) => p[2]![k]! - p[0]![k]!);
    const n = [u[1]! * w[2]! - u[2]! * w[1]!, u[2]! * w[0]! - u[0]! * w[2]!, u[0]! * w[1]! - u[1]! * w[0]!];
    const l = Math.hypot(...n) || 1;
    [...n.map((c) => c / l), ...p.flat()].forEach((c, k) => view.setFloat32(at + 4 * k, c, true));
  }
  return bytes;
}
