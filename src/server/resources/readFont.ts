import { err, ok, type Result } from '../../core/base/result';
import type { StrokeFontData } from '../../core/lettering/strokeTypeface';
import { createOutlineTypeface } from '../../core/lettering/outlineTypeface';
import type { FontError } from '../../core/lettering/typeface';
import type { Engines } from '../../core/pipeline/engines';
import { decodeFontFile, type FontFile } from './fontFiles';

/** A font file that was read: in the form it is kept in, with its names. */
export interface ReadFont extends FontFile {
  family: string;
  style: string;
}

/** Why a font file was not read: what is wrong with it, or that reading it came to no end. */
export type ReadFontError = FontError | { kind: 'fontUnreadable'; name: string; what: string };

/** Reads a font file that nobody vouches for. */
export type FontReader = (name: string, bytes: Uint8Array) => Promise<Result<ReadFont, ReadFontError>>;

/** Reads it in this process. */
export const readFontHere =
  (engines: Pick<Engines, 'harfbuzz'>): FontReader =>
  async (name, bytes) => {
    const decoded = await decodeFontFile(name, bytes);
    if (!decoded.ok) return decoded;
    const file = decoded.value;
    const stem = name.replace(/\.[^.]+$/, '');
    if (file.kind === 'stroke') {
      const { family } = JSON.parse(new TextDecoder().decode(file.bytes)) as StrokeFontData;
      return ok({ ...file, family: family || stem, style: 'Single line' });
    }
    const made = createOutlineTypeface(engines.harfbuzz, 'read', name, file.bytes, file.sha256);
    if (!made.ok) return made;
    return ok({ ...file, family: made.value.family || stem, style: made.value.style || 'Regular' });
  };

/** What the process apart answers: a line of JSON, and after it the bytes of the font. */
export type ReadFontAnswer = { ok: true; value: Omit<ReadFont, 'bytes'> } | { ok: false; error: ReadFontError };

export const unreadable = (name: string, what: string): Result<never, ReadFontError> => err({ kind: 'fontUnreadable', name, what });
