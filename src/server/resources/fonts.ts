import { readFileSync } from 'node:fs';
import path from 'node:path';
import { createOutlineTypeface } from '../../core/lettering/outlineTypeface';
import { createStrokeTypeface, type StrokeFontData } from '../../core/lettering/strokeTypeface';
import { ok, err, type Result } from '../../core/base/result';
import type { Engines } from '../../core/pipeline/engines';
import type { FontLookupError, Library } from '../../core/pipeline/lettering';
import type { Typeface } from '../../core/lettering/typeface';
import { getResourcesDir } from './engines';
import { sha256Of } from './fontFiles';

/** One font that ships with Hobel. */
export interface CatalogEntry {
  id: string;
  family: string;
  style: string;
  kind: 'outline' | 'stroke';
  class: string;
  file: string;
  licence: string;
  weight: number;
  italic: boolean;
}

export const readCatalog = (): CatalogEntry[] =>
  JSON.parse(readFileSync(path.join(getResourcesDir(), 'fonts/catalog.json'), 'utf8')) as CatalogEntry[];

/**
 * The shipped fonts, and font files beside a job.
 * @param baseDir Folder that `file` references start from; null where files are not allowed.
 */
export function createFileLibrary(engines: Engines, baseDir: string | null): Library {
  const catalog = new Map(readCatalog().map((entry) => [entry.id, entry]));
  const loaded = new Map<string, Result<Typeface, FontLookupError>>();
  const load = (key: string, name: string, file: string, kind: 'outline' | 'stroke'): Result<Typeface, FontLookupError> => {
    try {
      const bytes = new Uint8Array(readFileSync(file));
      if (kind === 'stroke')
        return ok(createStrokeTypeface(key, JSON.parse(new TextDecoder().decode(bytes)) as StrokeFontData, sha256Of(bytes)));
      return createOutlineTypeface(engines.harfbuzz, key, name, bytes, sha256Of(bytes));
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code) return err({ kind: 'fontUnknown', name });
      throw error;
    }
  };
  return {
    find(ref) {
      const key = 'id' in ref ? ref.id : `file:${ref.file}`;
      let found = loaded.get(key);
      if (!found) {
        if ('id' in ref) {
          const entry = catalog.get(ref.id);
          found = entry
            ? load(key, entry.family, path.join(getResourcesDir(), entry.file), entry.kind)
            : err({ kind: 'fontUnknown', name: ref.id });
        } else {
          found =
            baseDir === null
              ? err({ kind: 'fontUnknown', name: ref.file })
              : load(key, path.basename(ref.file), path.resolve(baseDir, ref.file), 'outline');
        }
        loaded.set(key, found);
      }
      return found;
    },
  };
}
