import { createHash } from 'node:crypto';
import { inflateSync } from 'node:zlib';
import { err, ok, type Result } from '../../core/base/result';
import { readSvgFont } from '../../core/lettering/svgFont';
import { MAX_FONT_BYTES, type FontError } from '../../core/lettering/typeface';

/** A font file brought into one of the two forms that the core reads: an sfnt, or a stroke font as JSON. */
export interface FontFile {
  kind: 'outline' | 'stroke';
  bytes: Uint8Array;
  sha256: string;
}

const WOFF = 0x774f4646;
const WOFF2 = 0x774f4632;

export const sha256Of = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/** Brings a TTF, OTF, WOFF, WOFF2 or SVG font into the form it is kept in. Sizes are limited before and after unpacking. */
export async function decodeFontFile(name: string, bytes: Uint8Array): Promise<Result<FontFile, FontError>> {
  if (bytes.length > MAX_FONT_BYTES) return err({ kind: 'fontTooLarge', name, bytes: bytes.length, limitBytes: MAX_FONT_BYTES });
  if (bytes.length < 12) return err({ kind: 'fontNotRecognised', name });
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const sfnt = (data: Uint8Array): Result<FontFile, FontError> =>
    data.length > MAX_FONT_BYTES
      ? err({ kind: 'fontTooLarge', name, bytes: data.length, limitBytes: MAX_FONT_BYTES })
      : ok({ kind: 'outline', bytes: data, sha256: sha256Of(data) });
  try {
    if (view.getUint32(0) === WOFF) return sfnt(unpackWoff(bytes));
    if (view.getUint32(0) === WOFF2) {
      // The size after unpacking stands in the head: a bomb is refused before it goes off.
      const total = view.getUint32(16);
      if (total > MAX_FONT_BYTES) return err({ kind: 'fontTooLarge', name, bytes: total, limitBytes: MAX_FONT_BYTES });
      const { decompress } = await import('wawoff2');
      return sfnt(new Uint8Array(await decompress(bytes)));
    }
  } catch {
    return err({ kind: 'fontNotRecognised', name });
  }
  const start = new TextDecoder().decode(bytes.subarray(0, 400)).trimStart();
  if (start.startsWith('<')) {
    const read = readSvgFont(new TextDecoder().decode(bytes), name);
    if (!read.ok) return read;
    const json = new TextEncoder().encode(JSON.stringify(read.value));
    return ok({ kind: 'stroke', bytes: json, sha256: sha256Of(json) });
  }
  return sfnt(bytes);
}

/** Unpacks a WOFF: the tables of an sfnt, each deflated alone. Source: WOFF File Format 1.0, W3C 2012 (from memory). */
export function unpackWoff(bytes: Uint8Array): Uint8Array {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const count = view.getUint16(12);
  const tables = Array.from({ length: count }, (_, k) => {
    const at = 44 + 20 * k;
    return {
      tag: view.getUint32(at),
      offset: view.getUint32(at + 4),
      packed: view.getUint32(at + 8),
      length: view.getUint32(at + 12),
      sum: view.getUint32(at + 16),
    };
  });
  const total = 12 + 16 * count + tables.reduce((sum, t) => sum + ((t.length + 3) & ~3), 0);
  if (!(total <= MAX_FONT_BYTES)) throw new RangeError('unpacks to too much');
  const out = new Uint8Array(total);
  const head = new DataView(out.buffer);
  head.setUint32(0, view.getUint32(4));
  head.setUint16(4, count);
  const power = Math.floor(Math.log2(Math.max(1, count)));
  head.setUint16(6, 16 * 2 ** power);
  head.setUint16(8, power);
  head.setUint16(10, 16 * count - 16 * 2 ** power);
  let offset = 12 + 16 * count;
  tables.forEach((t, k) => {
    const data = bytes.subarray(t.offset, t.offset + t.packed);
    const raw = t.packed < t.length ? inflateSync(data, { maxOutputLength: t.length }) : data;
    if (raw.length !== t.length) throw new RangeError('a table is cut off');
    out.set(raw, offset);
    const at = 12 + 16 * k;
    head.setUint32(at, t.tag);
    head.setUint32(at + 4, t.sum);
    head.setUint32(at + 8, offset);
    head.setUint32(at + 12, t.length);
    offset += (t.length + 3) & ~3;
  });
  return out;
}
