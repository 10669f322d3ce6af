import type { Removal } from './removal';

/** Material taken away along a program, span by span. */
export interface LoadTrace {
  /** End of each span, s. */
  timesS: Float64Array;
  /** Mean rate of each span, mm³/min. */
  mm3PerMin: Float32Array;
}

/**
 * The load of a program that was run whole, in spans of some length: blocks of a hundredth of a second say nothing each by itself.
 * Volumes are depths over the sheet's cells. O(motions).
 */
export function traceLoad({ track, load, field }: Pick<Removal, 'track' | 'load' | 'field'>, spanS: number): LoadTrace {
  const area = field.grid.cellX * field.grid.cellY;
  const times: number[] = [],
    rates: number[] = [];
  let from = 0,
    volume = 0;
  for (let i = 0; i < track.count; i++) {
    volume += load.taken[i]! * area;
    const end = track.timesS[i]!;
    if (end - from < spanS && i + 1 < track.count) continue;
    times.push(end);
    rates.push(end > from ? (60 * volume) / (end - from) : 0);
    from = end;
    volume = 0;
  }
  return { timesS: Float64Array.from(times), mm3PerMin: Float32Array.from(rates) };
}
