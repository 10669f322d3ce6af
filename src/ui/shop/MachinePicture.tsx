import { useState } from 'react';
import {
  describeTableTurn,
  describeTilt,
  describeTurn,
  getHead,
  getRotary,
  getTable,
  withRotary,
  withTable,
} from '../../core/machine/layouts/edit';
import { createMachineScene, SHOWN, type MachinePoint } from '../../core/machine/picture';
import type { Machine } from '../../core/job/schema';
import { Button } from '../common/Button';

const [WIDTH, HEIGHT] = [330, 250];
/** Whoever stands before the machine, a little to the right of its middle and above it. */
const [ROUND, ABOVE] = [(24 * Math.PI) / 180, (33 * Math.PI) / 180];
const VIEW: MachinePoint = [Math.sin(ROUND) * Math.cos(ABOVE), -Math.cos(ROUND) * Math.cos(ABOVE), Math.sin(ABOVE)];
const SCALE = 1.55;
/** A table with a blank standing on it takes more room. */
const TABLE_SCALE = 1.1;
const STEP = { linear: 10, rotary: 10 };
/** How far an axis is jogged at the most, mm and degrees. */
const REACH = { linear: 40, rotary: 180 };

const dot = (a: MachinePoint, b: MachinePoint): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/**
 * A machine with a blank on it, drawn by the kinematics that write its programs, with its axes to be jogged: what moves there can be held
 * against the real machine. @param set Changes the machine.
 */
export function MachinePicture({ machine, set }: { machine: Machine; set(change: Partial<Machine>): void }) {
  const [words, setWords] = useState<Record<string, number>>({});
  const rotary = getRotary(machine.layout);
  const head = getHead(machine.layout);
  const table = getTable(machine.layout);
  const turning = table ? [table.tilt.letter, table.turn.letter] : [rotary?.letter, head?.letter].filter((l) => l !== undefined);
  const letters = ['X', 'Y', 'Z', ...turning];
  const isAlongX = machine.layout.wrappedAxis === 'Y';
  const rest: Record<string, number> = table
    ? { Z: SHOWN.lengthMm + 14 }
    : { [isAlongX ? 'X' : 'Y']: 0.58 * SHOWN.lengthMm, Z: rotary ? SHOWN.radiusMm + 14 : 14 };
  const jog = (letter: string, by: number) => {
    const most = 'XYZ'.includes(letter) ? REACH.linear : REACH.rotary;
    // A table or a head goes no farther than it can.
    const own = letter === table?.tilt.letter ? table.tilt : { minDeg: -most, maxDeg: most };
    const [from, to] = [Math.max(-most, own.minDeg), Math.min(most, own.maxDeg)];
    setWords((w) => ({ ...w, [letter]: Math.max(from, Math.min(to, (w[letter] ?? 0) + by)) }));
  };
  const shown: Record<string, number> = { ...rest };
  for (const letter of letters) shown[letter] = (rest[letter] ?? 0) + (words[letter] ?? 0);
  const scene = createMachineScene(machine, shown);
  const middle: MachinePoint = table ? [0, 0, SHOWN.lengthMm / 2] : isAlongX ? [SHOWN.lengthMm / 2, 0, 4] : [0, SHOWN.lengthMm / 2, 4];
  const scale = table ? TABLE_SCALE : SCALE;
  const flat = (p: MachinePoint): [number, number] => {
    const [x, y, z] = [p[0] - middle[0], p[1] - middle[1], p[2] - middle[2]];
    const across = Math.cos(ROUND) * x + Math.sin(ROUND) * y;
    const up = Math.sin(ABOVE) * (-Math.sin(ROUND) * x + Math.cos(ROUND) * y) + Math.cos(ABOVE) * z;
    return [WIDTH / 2 + scale * across, HEIGHT / 2 + 18 - scale * up];
  };
  const path = (points: readonly MachinePoint[]): string =>
    points
      .map((p) =>
        flat(p)
          .map((v) => v.toFixed(1))
          .join(','),
      )
      .join(' ');
  const bed: MachinePoint[] = [
    [-62, -62, 0],
    [62, -62, 0],
    [62, 62, 0],
    [-62, 62, 0],
  ].map(([x, y]) => [middle[0] + x!, middle[1] + y!, table ? -SHOWN.underMm - 30 : rotary ? -SHOWN.radiusMm - 12 : -SHOWN.plateMm[2]]);
  const [tip, up] = scene.tool;
  const tell = describeJog(words, letters);
  return (
    <section aria-label="The machine, to be jogged" className="machine-picture">
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="img" aria-label={`The machine with its axes jogged: ${tell}`}>
        <defs>
          <marker id="arrow" viewBox="0 0 8 8" refX="6" refY="4" markerWidth="7" markerHeight="7" orient="auto">
            <path d="M0 0 8 4 0 8z" fill="#8a5a00" />
          </marker>
        </defs>
        <polygon points={path(bed)} fill="#e6e2d8" stroke="#b9b3a4" />
        {scene.faces
          .filter((f) => dot(f.normal, VIEW) > 0)
          .sort((f, g) => nearness(f.points) - nearness(g.points))
          .map((f, k) => (
            <polygon key={k} points={path(f.points)} fill={shade(f.normal, f.of)} stroke={shade(f.normal, f.of)} />
          ))}
        {scene.letter
          .filter((s) => dot(s.normal, VIEW) > 0)
          .map((s, k) => (
            <polyline key={k} points={path([s.from, s.to])} stroke="#3a2a12" strokeWidth={3} strokeLinecap="round" fill="none" />
          ))}
        {scene.turns.map(({ letter, points }) => (
          <g key={letter}>
            <polyline points={path(points)} fill="none" stroke="#8a5a00" strokeWidth={2} markerEnd="url(#arrow)" />
            <Tag at={flat(points[points.length - 1]!)} text={`${letter}+`} />
          </g>
        ))}
        <polyline points={path([tip, up])} stroke="#5b6770" strokeWidth={9} strokeLinecap="butt" />
        <polyline points={path([tip, lerp(tip, up, 0.28)])} stroke="#2c343a" strokeWidth={3} />
        <Triad flat={flat} at={[middle[0] - 62, middle[1] - 62, bed[0]![2]]} />
      </svg>
      <div className="jogs">
        {letters.map((letter) => {
          const step = 'XYZ'.includes(letter) ? STEP.linear : STEP.rotary;
          const unit = 'XYZ'.includes(letter) ? 'mm' : '°';
          return (
            <span key={letter} className="jog">
              <Button
                size="sm"
                variant="outline-secondary"
                aria-label={`Jog ${letter} by −${step} ${unit}`}
                onClick={() => jog(letter, -step)}
              >
                {letter}−
              </Button>
              <span className="figure">
                {words[letter] ?? 0}
                {unit === '°' ? '°' : ''}
              </span>
              <Button
                size="sm"
                variant="outline-secondary"
                aria-label={`Jog ${letter} by +${step} ${unit}`}
                onClick={() => jog(letter, step)}
              >
                {letter}+
              </Button>
            </span>
          );
        })}
        <Button size="sm" variant="link" className="p-0" onClick={() => setWords({})}>
          Back to the start
        </Button>
      </div>
      {rotary && (
        <p className="why mb-0">
          Jog {rotary.letter}+ on the machine, standing where X runs to your right and Y away from you. Here the top of the blank goes{' '}
          {describeTurn(machine.layout.wrappedAxis, rotary.sense)}.{' '}
          <Button
            size="sm"
            variant="link"
            className="p-0 align-baseline"
            onClick={() => set(withRotary(machine, { sense: rotary.sense > 0 ? -1 : 1 }))}
          >
            Mine goes the other way
          </Button>
        </p>
      )}
      {table && (
        <p className="why mb-0">
          Jog {table.tilt.letter}+ on the machine: here {describeTilt(table.tilt)}.{' '}
          <Button
            size="sm"
            variant="link"
            className="p-0 align-baseline"
            onClick={() => set(withTable(machine, { tilt: { ...table.tilt, sense: table.tilt.sense > 0 ? -1 : 1 } }))}
          >
            Mine tilts the other way
          </Button>{' '}
          Jog {table.turn.letter}+, the table level: seen from above, {describeTableTurn(table.turn)}.{' '}
          <Button
            size="sm"
            variant="link"
            className="p-0 align-baseline"
            onClick={() => set(withTable(machine, { turn: { ...table.turn, sense: table.turn.sense > 0 ? -1 : 1 } }))}
          >
            Mine turns the other way
          </Button>
        </p>
      )}
      <p className="why mb-0">Words move the tool over the blank; where the table moves instead, it goes the other way.</p>
    </section>
  );
}

/** How near a face is to who looks: those farther off are drawn first. */
const nearness = (points: readonly MachinePoint[]): number => points.reduce((sum, p) => sum + dot(p, VIEW), 0) / points.length;

const lerp = (a: MachinePoint, b: MachinePoint, t: number): MachinePoint => [
  a[0] + t * (b[0] - a[0]),
  a[1] + t * (b[1] - a[1]),
  a[2] + t * (b[2] - a[2]),
];

/** Brass, or the grey of a table, in light from above and the left. */
function shade(normal: MachinePoint, of: 'blank' | 'table'): string {
  const light = Math.max(0, dot(normal, [-0.35, -0.45, 0.82]));
  return `hsl(${of === 'blank' ? '41 38%' : '205 8%'} ${String(Math.round(48 + 30 * light))}%)`;
}

const describeJog = (words: Readonly<Record<string, number>>, letters: readonly string[]): string => {
  const moved = letters.filter((l) => (words[l] ?? 0) !== 0).map((l) => `${l} ${words[l]! > 0 ? '+' : ''}${words[l]!}`);
  return moved.length > 0 ? moved.join(', ') : 'none is jogged';
};

function Tag({ at: [x, y], text }: { at: [number, number]; text: string }) {
  return (
    <text x={x + 7} y={y + 4} fontSize={12} fill="#8a5a00" fontWeight={600}>
      {text}
    </text>
  );
}

/** The directions of X, Y and Z. */
function Triad({ flat, at }: { flat(p: MachinePoint): [number, number]; at: MachinePoint }) {
  const ends: [string, MachinePoint][] = [
    ['X', [at[0] + 26, at[1], at[2]]],
    ['Y', [at[0], at[1] + 26, at[2]]],
    ['Z', [at[0], at[1], at[2] + 26]],
  ];
  const [x0, y0] = flat(at);
  return (
    <>
      {ends.map(([letter, end]) => {
        const [x, y] = flat(end);
        return (
          <g key={letter}>
            <line x1={x0} y1={y0} x2={x} y2={y} stroke="#5b6770" strokeWidth={1.5} />
            <text x={x + (letter === 'Z' ? -3 : 3)} y={y - 3} fontSize={11} fill="#3f484f">
              {letter}
            </text>
          </g>
        );
      })}
    </>
  );
}
