import type { Machine } from '../job/machineSchema';
import { getRotary } from './layouts/edit';
import { getLayout } from './layouts/registry';

/** A point on the machine, mm: X to the right, Y away, Z up, as who stands before it sees them. */
export type MachinePoint = readonly [x: number, y: number, z: number];

/** What a picture of a machine shows, in machine coordinates, as its kinematics put it there. */
export interface MachineScene {
  /** Faces of the blank with how they face, unit. */
  faces: { points: MachinePoint[]; normal: MachinePoint }[];
  /** Strokes of the letter on it, each piece with the normal of the surface there. */
  letter: { from: MachinePoint; to: MachinePoint; normal: MachinePoint }[];
  /** Tip of the tool, and a place up its axis. */
  tool: [tip: MachinePoint, up: MachinePoint];
  /** The way that the top of the blank goes as the rotary's word grows; null where nothing turns. */
  turn: MachinePoint[] | null;
}

/** The blank that is shown: a round one, or a plate where nothing turns, mm. */
export const SHOWN = { radiusMm: 22, lengthMm: 90, plateMm: [90, 60, 8] } as const;
const FACETS = 40;
/** A letter that is seen to be mirrored if it is, in mm along and across from its middle. */
const LETTER: readonly (readonly [number, number])[][] = [
  [
    [-6, -9],
    [-6, 9],
    [7, 9],
  ],
  [
    [-6, 1],
    [4, 1],
  ],
];
/** Longest piece of the letter that is drawn straight, mm. */
const PIECE_MM = 1.5;
/** The arrow of the turn begins and ends there, and is drawn in so many pieces; how far out from the blank, mm. */
const [TURN_FROM_DEG, TURN_TO_DEG, TURN_PIECES, TURN_OUT_MM] = [8, 70, 12, 7];
const TOOL_MM = 45;
const DEG = Math.PI / 180;

/**
 * The machine with its axes at the words given, by the kinematics that write programs, so that what the picture shows a word to do is what
 * a program makes it do. @param words By letter, mm and degrees; 0 for those left out.
 */
export function createMachineScene(machine: Machine, words: Readonly<Record<string, number>>): MachineScene {
  const rotary = getRotary(machine.layout);
  const mount = rotary ? 'rotary' : 'table';
  const kinematics = getLayout(machine.layout).kinematics(machine, machine.layout, mount, 0);
  const { axes } = kinematics;
  const turnAt = rotary ? axes.findIndex((a) => a.letter === rotary.letter) : -1;
  const out = new Float64Array(axes.length);
  /** Where a point of the blank stands on the machine at a word of the rotary: where an upright tool would have to go to touch it. */
  const place = (p: readonly number[], turnWord: number): MachinePoint => {
    const turn = rotary ? rotary.sense * turnWord * DEG : 0;
    const near = axes.map((_, k) => (k === turnAt ? turnWord : 0));
    kinematics.inverse(Float64Array.from(p), Float64Array.from([0, Math.sin(turn), Math.cos(turn)]), near, out);
    return [out[0]!, out[1]!, out[2]!];
  };
  const turnWord = rotary ? (words[rotary.letter] ?? 0) : 0;
  const origin = place([0, 0, 0], turnWord);
  const direct = (n: readonly number[]): MachinePoint => {
    const at = place(n, turnWord);
    return [at[0] - origin[0], at[1] - origin[1], at[2] - origin[2]];
  };
  const at = (p: readonly number[]): MachinePoint => place(p, turnWord);

  const tip = new Float64Array(3),
    axis = new Float64Array(3);
  kinematics.forward(
    axes.map((a) => words[a.letter] ?? 0),
    tip,
    axis,
  );
  const up = [0, 1, 2].map((k) => tip[k]! + TOOL_MM * axis[k]!);
  const blank = rotary ? listRound() : listPlate();
  return {
    faces: blank.faces.map(({ points, normal }) => ({ points: points.map(at), normal: direct(normal) })),
    letter: listLetter(blank.middle, blank.wrap).map(({ from, to, normal }) => ({ from: at(from), to: at(to), normal: direct(normal) })),
    tool: [at([...tip]), at(up)],
    turn: rotary
      ? Array.from({ length: TURN_PIECES + 1 }, (_, k) =>
          place(
            [0.12 * SHOWN.lengthMm, ...(blank.wrap(0, SHOWN.radiusMm + TURN_OUT_MM).slice(1) as [number, number])],
            TURN_FROM_DEG + (k / TURN_PIECES) * (TURN_TO_DEG - TURN_FROM_DEG),
          ),
        )
      : null,
  };
}

type Local = number[];
interface Shown {
  faces: { points: Local[]; normal: Local }[];
  /** Place of the letter's middle along. */
  middle: number;
  /** Point of the surface, or so far from the axis, at a way across from the top; x is left 0. */
  wrap(acrossMm: number, radiusMm?: number): Local;
}

function listRound(): Shown {
  const { radiusMm: r, lengthMm: l } = SHOWN;
  const angleOf = (k: number): number => (2 * Math.PI * k) / FACETS;
  const rim = (x: number): Local[] => Array.from({ length: FACETS }, (_, k) => [x, r * Math.sin(angleOf(k)), r * Math.cos(angleOf(k))]);
  const sides = Array.from({ length: FACETS }, (_, k) => {
    const [near, far] = [rim(0), rim(l)];
    const j = (k + 1) % FACETS;
    return { points: [near[k]!, far[k]!, far[j]!, near[j]!], normal: [0, Math.sin(angleOf(k + 0.5)), Math.cos(angleOf(k + 0.5))] };
  });
  return {
    faces: [...sides, { points: rim(0), normal: [-1, 0, 0] }, { points: rim(l), normal: [1, 0, 0] }],
    middle: 0.58 * l,
    wrap: (across, radius = r) => [0, radius * Math.sin(across / r), radius * Math.cos(across / r)],
  };
}

function listPlate(): Shown {
  const [l, w, h] = SHOWN.plateMm;
  const corners = (z: number): Local[] => [
    [0, -w / 2, z],
    [l, -w / 2, z],
    [l, w / 2, z],
    [0, w / 2, z],
  ];
  const [top, bottom] = [corners(0), corners(-h)];
  const sides = [0, 1, 2, 3].map((k) => {
    const j = (k + 1) % 4;
    const normals = [
      [0, -1, 0],
      [1, 0, 0],
      [0, 1, 0],
      [-1, 0, 0],
    ];
    return { points: [bottom[k]!, bottom[j]!, top[j]!, top[k]!], normal: normals[k]! };
  });
  return { faces: [...sides, { points: top, normal: [0, 0, 1] }], middle: 0.5 * l, wrap: (across) => [0, across, 0] };
}

/** The letter in pieces on the surface. */
function listLetter(middle: number, wrap: Shown['wrap']): { from: Local; to: Local; normal: Local }[] {
  const put = ([along, across]: readonly [number, number]): Local => {
    const [, y, z] = wrap(across);
    return [middle + along, y!, z!];
  };
  return LETTER.flatMap((stroke) =>
    stroke.slice(1).flatMap((to, i) => {
      const from = stroke[i]!;
      const pieces = Math.ceil(Math.hypot(to[0] - from[0], to[1] - from[1]) / PIECE_MM);
      const on = (t: number): readonly [number, number] => [from[0] + t * (to[0] - from[0]), from[1] + t * (to[1] - from[1])];
      return Array.from({ length: pieces }, (_, k) => {
        const [a, b] = [put(on(k / pieces)), put(on((k + 1) / pieces))];
        const [, y, z] = wrap(on((k + 0.5) / pieces)[1]);
        const out = Math.hypot(y!, z!) > 1 && z !== 0 ? [0, y! / Math.hypot(y!, z!), z! / Math.hypot(y!, z!)] : [0, 0, 1];
        return { from: a, to: b, normal: out };
      });
    }),
  );
}
