import type { CarvedPiece } from './carvePiece';

/** Carved pieces by what they depend on, kept from plan to plan, so that a letter is carved once and not at every keystroke. */
export interface CarveCache {
  get(key: string): CarvedPiece | undefined;
  set(key: string, piece: CarvedPiece): void;
}

/** Largest number of pieces kept; the oldest go first. */
const MAX_CACHED_PIECES = 3000;

export function createCarveCache(): CarveCache {
  const pieces = new Map<string, CarvedPiece>();
  return {
    get: (key) => pieces.get(key),
    set(key, piece) {
      if (pieces.size >= MAX_CACHED_PIECES) pieces.delete(pieces.keys().next().value!);
      pieces.set(key, piece);
    },
  };
}
