/** One line of a drawing as it came in, flattened, mm, y up. */
export interface ImportedLine {
  layer: string;
  xy: number[];
  /** Whether the last point joins the first. */
  closed: boolean;
  /** Whether the drawing fills it, and by which rule; lines with one number belong to one shape. */
  fill: { rule: 'nonzero' | 'evenodd'; shape: number } | null;
}

/** A drawing read from a file, with what was left out and why. */
export interface ImportedDrawing {
  lines: ImportedLine[];
  layers: string[];
  /** In words: what was ignored, and how units were taken. */
  notes: string[];
}

export type ImportError =
  | { kind: 'tooLarge'; bytes: number; limitBytes: number }
  | { kind: 'notReadable'; what: string }
  | { kind: 'tooMany'; what: string; limit: number }
  | { kind: 'empty'; what: string };

/** Largest file of artwork taken, bytes; most elements or entities, counting every use of a shared one. */
export const MAX_IMPORT_BYTES = 30 * 1024 * 1024;
export const MAX_ELEMENTS = 200_000;
export const MAX_DEPTH = 40;

/** Stops an import from the inside; turned into an `ImportError` at the edge. */
export class ImportStop extends Error {
  constructor(readonly error: ImportError) {
    super(error.kind);
    this.name = 'ImportStop';
  }
}

/** The wording of an import's failure. */
export function describeImportError(error: ImportError, file: string): string {
  switch (error.kind) {
    case 'tooLarge':
      return `${file} has ${(error.bytes / 1048576).toFixed(1)} MB; up to ${error.limitBytes / 1048576} MB can be read`;
    case 'notReadable':
      return `${file} cannot be read: ${error.what}`;
    case 'tooMany':
      return `${file} has more than ${error.limit} ${error.what}; simplify it before importing`;
    case 'empty':
      return `${file} has nothing to engrave: ${error.what}`;
  }
}

/** Called now and then with the share done; may throw to stop. */
export type OnImportProgress = (share: number) => void;
