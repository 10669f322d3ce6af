import type { Setup } from '../pipeline/setup';
import type { Track } from './removal';

/** What may be otherwise at the machine than in the job. */
export interface WhatIf {
  /** How much too high the zero of Z was taken, mm; negative where it was too low, and all is cut deeper. */
  zeroMm: number;
  /** How far the blank stands out of round: its surface is that much higher at turn 0 and that much lower opposite, mm; ≥ 0. */
  outOfRoundMm: number;
  /** Width of the flat to which the tips are worn since their lengths were measured, mm; 0 for as new. */
  wornMm: number;
}

export const AS_PLANNED: Readonly<WhatIf> = { zeroMm: 0, outOfRoundMm: 0, wornMm: 0 };
export const isAsPlanned = (w: WhatIf): boolean => w.zeroMm === 0 && w.outOfRoundMm === 0 && w.wornMm === 0;

/**
 * The motions of a program as they come out at such a machine. A V whose tip wears off keeps its flank: it loses (t' − t)/(2 tan β) of its
 * height, so strokes narrower than t' vanish and the others keep their width. Elementary.
 */
export function applyWhatIf({ kinematics, work }: Pick<Setup, 'kinematics' | 'work'>, track: Track, whatIf: WhatIf): Track {
  const n = kinematics.axes.length;
  const values = track.values.slice();
  const tip = new Float64Array(3),
    axis = new Float64Array(3);
  const lost = track.tools.map((t) =>
    t.kind === 'v' && whatIf.wornMm > t.tipMm ? (whatIf.wornMm - t.tipMm) / 2 / Math.tan((t.includedDeg * Math.PI) / 360) : 0,
  );
  const zAt = kinematics.axes.findIndex((a) => a.letter === 'Z');
  for (let i = 0; i < track.count; i++) {
    let lift = whatIf.zeroMm + (lost[track.tool[i]!] ?? 0);
    if (whatIf.outOfRoundMm > 0 && work.round) {
      kinematics.forward(track.values.subarray(n * i, n * (i + 1)), tip, axis);
      lift -= whatIf.outOfRoundMm * Math.cos(Math.atan2(tip[1]!, tip[2]!));
    }
    values[n * i + zAt]! += lift;
  }
  const tools = track.tools.map((t) => (t.kind === 'v' && whatIf.wornMm > t.tipMm ? { ...t, tipMm: whatIf.wornMm } : t));
  return { ...track, values, tools };
}
