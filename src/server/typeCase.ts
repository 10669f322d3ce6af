import { readFileSync } from 'node:fs';
import path from 'node:path';
import { eq } from 'drizzle-orm';
import { err, ok, type Result } from '../core/base/result';
import type { FontCard } from '../core/lettering/fontCard';
import type { StrokeFontData } from '../core/lettering/strokeTypeface';
import { createOutlineTypeface } from '../core/lettering/outlineTypeface';
import type { Engines } from '../core/pipeline/engines';
import type { Db } from './db/connection';
import { fonts, jobs } from './db/schema';
import { getResourcesDir } from './resources/engines';
import type { FontReader, ReadFontError } from './resources/readFont';
import { readCatalog } from './resources/fonts';

export type FontRefusal = ReadFontError | { kind: 'fontKnown'; name: string; id: string };

/** The wording of why a font is not taken. */
export function describeFontRefusal(error: FontRefusal): string {
  switch (error.kind) {
    case 'fontTooLarge':
      return `${error.name} has ${(error.bytes / 1048576).toFixed(0)} MB; a font may have up to ${error.limitBytes / 1048576} MB`;
    case 'fontNotRecognised':
      return `${error.name} is no font that can be read: TTF, OTF, WOFF, WOFF2 and SVG fonts are`;
    case 'fontEmpty':
      return `${error.name} has no letters that can be cut`;
    case 'fontUnreadable':
      return `${error.name} was not taken: ${error.what}`;
    case 'fontKnown':
      return `${error.name} is in the type case already`;
  }
}

/** All fonts of the house. The rows hold what ships (by file) and what was put in (by bytes). */
export function listFonts(db: Db): FontCard[] {
  const catalog = new Map(readCatalog().map((e) => [e.id, e]));
  return db
    .select({
      id: fonts.id,
      family: fonts.family,
      style: fonts.style,
      kind: fonts.kind,
      sha256: fonts.sha256,
      file: fonts.file,
      addedAt: fonts.addedAt,
    })
    .from(fonts)
    .orderBy(fonts.family, fonts.style)
    .all()
    .filter((row) => row.file === null || catalog.has(row.id))
    .map((row) => {
      const entry = catalog.get(row.id);
      const style = row.style.toLowerCase();
      return {
        id: row.id,
        family: row.family,
        style: row.style,
        kind: row.kind,
        sha256: row.sha256,
        own: row.file === null,
        class: entry?.class ?? (row.kind === 'stroke' ? 'stroke' : 'own'),
        weight: entry?.weight ?? (/bold|black|heavy/.test(style) ? 700 : 400),
        italic: entry?.italic ?? /italic|oblique/.test(style),
      };
    });
}

/** The file of a font in the form the core reads, or null. */
export function readFont(db: Db, id: string): { kind: 'outline' | 'stroke'; bytes: Uint8Array; sha256: string } | null {
  const row = db.select().from(fonts).where(eq(fonts.id, id)).get();
  if (!row) return null;
  const bytes = row.bytes ?? (row.file ? readFileSync(path.join(getResourcesDir(), row.file)) : null);
  return bytes ? { kind: row.kind, bytes, sha256: row.sha256 } : null;
}

/** Puts a font file into the type case, once it is proven to be one. @param read Reads it, apart from what must not be harmed. */
export async function addFont(
  db: Db,
  read: FontReader,
  name: string,
  bytes: Uint8Array,
  nowMs: number,
): Promise<Result<FontCard, FontRefusal>> {
  const made = await read(name, bytes);
  if (!made.ok) return made;
  const { kind, bytes: own, sha256, family, style } = made.value;
  const known = db.select({ id: fonts.id }).from(fonts).where(eq(fonts.sha256, sha256)).get();
  if (known) return err({ kind: 'fontKnown', name, id: known.id });
  const id = `own-${sha256.slice(0, 16)}`;
  db.insert(fonts)
    .values({
      id,
      family: family.slice(0, 120),
      style: style.slice(0, 60),
      kind,
      sha256,
      file: null,
      bytes: Buffer.from(own),
      addedAt: nowMs,
    })
    .run();
  return ok(listFonts(db).find((f) => f.id === id)!);
}

/** Names of the jobs that use a font. */
export const listFontUses = (db: Db, id: string): string[] =>
  db
    .select({ name: jobs.name, document: jobs.document })
    .from(jobs)
    .all()
    .filter((row) => row.document.includes(`"id":${JSON.stringify(id)}`))
    .map((row) => row.name);

/** Takes a font that was put in out of the type case; one that ships stays. */
export function removeFont(db: Db, id: string): boolean {
  const row = db.select({ file: fonts.file }).from(fonts).where(eq(fonts.id, id)).get();
  if (!row || row.file !== null) return false;
  return db.delete(fonts).where(eq(fonts.id, id)).run().changes > 0;
}

/** Code points that a font has, ascending; null for a font that is not there or cannot be read. */
export function listCharacters(db: Db, engines: Engines, id: string): number[] | null {
  const font = readFont(db, id);
  if (!font) return null;
  if (font.kind === 'stroke')
    return (JSON.parse(new TextDecoder().decode(font.bytes)) as StrokeFontData).glyphs
      .map((g) => g.char.codePointAt(0)!)
      .sort((a, b) => a - b);
  const made = createOutlineTypeface(engines.harfbuzz, id, id, font.bytes, font.sha256);
  return made.ok ? Array.from(made.value.characters) : null;
}
