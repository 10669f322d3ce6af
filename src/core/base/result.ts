/** An expected outcome: a value, or an error tagged by `kind`. The wording for people is made at the edge. */
export type Result<T, E extends { kind: string }> = { ok: true; value: T } | { ok: false; error: E };

export const ok = <T>(value: T): { ok: true; value: T } => ({ ok: true, value });
export const err = <E extends { kind: string }>(error: E): { ok: false; error: E } => ({ ok: false, error });
