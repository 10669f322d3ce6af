/** What was worked out for pieces of lettering, by what it depends on, kept from plan to plan: nothing is carved at every keystroke. */
export interface PieceCache {
  /** What was kept under a key: of the type that whoever owns the key's prefix put there. */
  get(key: string): unknown;
  set(key: string, made: object): void;
  /** Pieces found and pieces put in since this was last asked. */
  takeCounts(): PieceCounts;
}

export interface PieceCounts {
  kept: number;
  made: number;
}

/** Largest number of pieces kept; the oldest go first. */
const MAX_CACHED_PIECES = 3000;

export function createPieceCache(most = MAX_CACHED_PIECES): PieceCache {
  const pieces = new Map<string, object>();
  let counts: PieceCounts = { kept: 0, made: 0 };
  return {
    get(key) {
      const found = pieces.get(key);
      if (found) counts.kept++;
      return found;
    },
    takeCounts() {
      const taken = counts;
      counts = { kept: 0, made: 0 };
      return taken;
    },
    set(key, piece) {
      counts.made++;
      if (pieces.size >= most) pieces.delete(pieces.keys().next().value!);
      pieces.set(key, piece);
    },
  };
}
