/*
 * The kinematics of every layout against a chain of matrices of another make, built up from how the machine is: what turns carries what.
 * Frames: right-handed, X to the right, Y away, Z up (ISO 841, from memory). 10 000 random poses a layout.
 */
import { Matrix4, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { DEFAULT_MACHINE, TABLE_MACHINE } from '../src/core/job/defaults';
import type { LayoutOf, Machine } from '../src/core/job/machineSchema';
import type { Held } from '../src/core/machine/layouts/layout';
import { getLayout } from '../src/core/machine/layouts/registry';
import { toToolPoint } from '../src/core/machine/toolPoint';
import { createRandom, machineWith, tiltingMachine } from '../tests/support';

const POSES = 10_000;
const DEG = Math.PI / 180;
const translation = (v: readonly number[]): Matrix4 => new Matrix4().makeTranslation(v[0]!, v[1]!, v[2]!);
const basis = (x: readonly number[], y: readonly number[], z: readonly number[]): Matrix4 =>
  new Matrix4().makeBasis(new Vector3(...x), new Vector3(...y), new Vector3(...z));
const chain = (...all: Matrix4[]): Matrix4 => all.reduce((m, n) => m.multiply(n), new Matrix4());

/** From the blank frame to the machine, and from the tool's own frame (tip at 0, along +Z) to the machine, for words. */
interface Chain {
  blank(words: readonly number[]): Matrix4;
  tool(words: readonly number[]): Matrix4;
}

const ZERO = [4, 3, 7] as const;
const held = (mount: Held['mount'], centreMm: Held['centreMm'] = null): Held => ({ mount, zeroMm: ZERO, turnDeg: 35, centreMm });

/** A rotary along X or Y: the blank turns about it. The zero is a place on it. */
function rotaryChain(machine: Machine & { layout: LayoutOf<'rotary'> | LayoutOf<'rotary-tilting-head'> }, mount: Held['mount']): Chain {
  const { layout } = machine;
  const alongX = layout.wrappedAxis === 'Y';
  // The blank's x along the free axis, its z up.
  const placing = alongX ? new Matrix4() : basis([0, 1, 0], [-1, 0, 0], [0, 0, 1]);
  const zero = new Vector3(...ZERO).applyMatrix4(placing);
  const turn = (deg: number): Matrix4 => (alongX ? new Matrix4().makeRotationX(deg * DEG) : new Matrix4().makeRotationY(deg * DEG));
  const head = 'head' in layout ? layout.head : null;
  return {
    blank: (w) => chain(translation([-zero.x, -zero.y, -zero.z]), turn(mount === 'rotary' ? layout.rotary.sense * w[3]! + 35 : 0), placing),
    tool(w) {
      if (!head) return translation(w);
      const b = head.sense * w[mount === 'rotary' ? 4 : 3]! * DEG;
      // It leans towards the blank's far end: about Y towards +X, about X towards +Y.
      const lean = alongX ? new Matrix4().makeRotationY(b) : new Matrix4().makeRotationX(-b);
      // The words are those at which the tip would stand with the tool upright: what moves is the axis over it.
      return chain(translation([w[0]!, w[1]!, w[2]! + head.pivotMm]), lean, translation([0, 0, -head.pivotMm]));
    },
  };
}

/** A table that turns, carried by one that tilts; their axes pass each other. */
function tableChain(machine: Machine & { layout: LayoutOf<'table-table'> }, { mount, centreMm }: Held): Chain {
  const { tilt, turn, wrappedAxis, turnAsideMm } = machine.layout;
  const aside = tilt.letter === 'A' ? [0, turnAsideMm, 0] : [turnAsideMm, 0, 0];
  const isRound = mount === 'rotary';
  const placing = isRound
    ? // Its turn 0 faces the side that goes up with plus, where the tilt goes as far to both.
      tilt.letter === 'A'
      ? basis([0, 0, 1], [1, 0, 0], [0, 1, 0])
      : basis([0, 0, 1], [0, 1, 0], [-1, 0, 0])
    : wrappedAxis === 'Y'
      ? new Matrix4()
      : basis([0, 1, 0], [-1, 0, 0], [0, 0, 1]);
  const zero = new Vector3(...(isRound ? [ZERO[0], 0, 0] : ZERO)).applyMatrix4(placing);
  const c = isRound ? [0, 0, centreMm![2]] : [...centreMm!];
  return {
    blank: (w) =>
      chain(
        translation(c.map((v, k) => v - aside[k]!)),
        tilt.letter === 'A' ? new Matrix4().makeRotationX(tilt.sense * w[3]! * DEG) : new Matrix4().makeRotationY(tilt.sense * w[3]! * DEG),
        translation(aside),
        new Matrix4().makeRotationZ((turn.sense * w[4]! + (isRound ? 35 : 0)) * DEG),
        translation(c.map((v) => -v)),
        translation([-zero.x, -zero.y, -zero.z]),
        placing,
      ),
    tool: (w) => translation(w),
  };
}

const tableWith = (letter: 'A' | 'B', sense: 1 | -1, wrappedAxis: 'X' | 'Y'): typeof TABLE_MACHINE => ({
  ...TABLE_MACHINE,
  layout: {
    ...TABLE_MACHINE.layout,
    wrappedAxis,
    turnAsideMm: sense * (letter === 'A' ? 3.5 : -21),
    tilt: { ...TABLE_MACHINE.layout.tilt, letter, sense, minDeg: -120, maxDeg: 120 },
    turn: { ...TABLE_MACHINE.layout.turn, sense },
  },
});

const CENTRE = [12, -7, -60] as const;
const CASES: [name: string, machine: Machine, held: Held, chain: Chain][] = [];
for (const sense of [1, -1] as const) {
  for (const wrapped of ['X', 'Y'] as const) {
    const plain = machineWith({ sense }, wrapped);
    CASES.push([`rotary, blank along ${wrapped === 'Y' ? 'X' : 'Y'}, sense ${sense}`, plain, held('rotary'), rotaryChain(plain, 'rotary')]);
    for (const mount of ['rotary', 'table'] as const) {
      const made = tiltingMachine({ sense, pivotMm: 180 });
      const tilting = { ...made, layout: { ...made.layout, wrappedAxis: wrapped, rotary: { ...made.layout.rotary, sense } } };
      CASES.push([`tilting head, wrapped ${wrapped}, sense ${sense}, ${mount}`, tilting, held(mount), rotaryChain(tilting, mount)]);
      for (const letter of ['A', 'B'] as const) {
        const table = tableWith(letter, sense, wrapped);
        const on = held(mount, CENTRE);
        CASES.push([`table ${letter}/C, wrapped ${wrapped}, sense ${sense}, ${mount}`, table, on, tableChain(table, on)]);
      }
    }
  }
}

describe('kinematics against a chain of matrices', () => {
  it.each(CASES)('%s', (_, machine, on, { blank, tool }) => {
    const kinematics = getLayout(machine.layout).kinematics(machine, machine.layout, on);
    const kept = toToolPoint(kinematics);
    const random = createRandom(17);
    const n = kinematics.axes.length;
    const tip = new Float64Array(3),
      axis = new Float64Array(3),
      words = new Float64Array(n),
      point = new Float64Array(n);
    let worst = 0;
    for (let k = 0; k < POSES; k++) {
      const given = kinematics.axes.map((a) =>
        a.kind === 'linear' ? 200 * random() - 100 : Number.isFinite(a.min) ? a.min + random() * (a.max - a.min) : 1440 * random() - 720,
      );
      kinematics.forward(given, tip, axis);
      // The tip and a place up the tool, brought back from the machine to the blank by the chain.
      const toBlank = blank(given).invert();
      const at = new Vector3(0, 0, 0).applyMatrix4(tool(given)).applyMatrix4(toBlank);
      const up = new Vector3(0, 0, 1).applyMatrix4(tool(given)).applyMatrix4(toBlank).sub(at);
      worst = Math.max(worst, at.distanceTo(new Vector3(...tip)), up.distanceTo(new Vector3(...axis)));
      // And back again, with the axes expected where they stand.
      kinematics.inverse(tip, axis, given, words);
      for (let j = 0; j < n; j++) worst = Math.max(worst, Math.abs(words[j]! - given[j]!) * (j < 3 ? 1 : DEG));
      // Under a control that keeps the tool's point the words are the tip's, as the chain has it with nothing turned.
      kept.inverse(tip, axis, given, point);
      const still = new Vector3(...tip).applyMatrix4(blank(given.map((v, j) => (j < 3 ? v : 0))));
      worst = Math.max(worst, still.distanceTo(new Vector3(point[0], point[1], point[2])));
    }
    expect(worst).toBeLessThan(1e-9);
  });

  it('covers every layout but the one that nothing turns on, and would see a wrong sense', () => {
    expect(new Set(CASES.map(([, m]) => m.layout.kind))).toEqual(new Set(['rotary', 'rotary-tilting-head', 'table-table']));
    const right = tableWith('A', 1, 'Y');
    const wrong = tableWith('A', -1, 'Y');
    const on = held('rotary', CENTRE);
    const tip = new Float64Array(3),
      axis = new Float64Array(3);
    getLayout(right.layout).kinematics(right, right.layout, on).forward([1, 2, 3, 40, 50], tip, axis);
    const at = new Vector3(0, 0, 0)
      .applyMatrix4(tableChain(wrong, on).tool([1, 2, 3]))
      .applyMatrix4(tableChain(wrong, on).blank([1, 2, 3, 40, 50]).invert());
    expect(at.distanceTo(new Vector3(...tip))).toBeGreaterThan(1);
    expect(DEFAULT_MACHINE.layout.kind).toBe('rotary');
  });
});
