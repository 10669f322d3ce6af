import { useState } from 'react';
import {
  describeTableTurn,
  describeTilt,
  describeTurn,
  getRotary,
  getTable,
  withRotary,
  withTable,
} from '../../../core/machine/layouts/edit';
import { DRAWING, drawMachine, getRestWords, listLetters, type Shape } from '../../../core/machine/drawing';
import type { Machine } from '../../../core/job/schema';
import { Button } from '../../common/Button';

const STEP = { linear: 10, rotary: 10 };
/** How far an axis is jogged at the most, mm and degrees. */
const REACH = { linear: 40, rotary: 180 };

/**
 * A machine with a blank on it, drawn by the kinematics that write its programs, with its axes to be jogged: what moves there can be held
 * against the real machine. @param set Changes the machine.
 */
export function MachinePicture({ machine, set }: { machine: Machine; set(change: Partial<Machine>): void }) {
  const [words, setWords] = useState<Record<string, number>>({});
  const rotary = getRotary(machine.layout);
  const table = getTable(machine.layout);
  const letters = listLetters(machine);
  const rest = getRestWords(machine);
  const jog = (letter: string, by: number) => {
    const most = 'XYZ'.includes(letter) ? REACH.linear : REACH.rotary;
    // A table or a head goes no farther than it can.
    const own = letter === table?.tilt.letter ? table.tilt : { minDeg: -most, maxDeg: most };
    const [from, to] = [Math.max(-most, own.minDeg), Math.min(most, own.maxDeg)];
    setWords((w) => ({ ...w, [letter]: Math.max(from, Math.min(to, (w[letter] ?? 0) + by)) }));
  };
  const shown: Record<string, number> = { ...rest };
  for (const letter of letters) shown[letter] = (rest[letter] ?? 0) + (words[letter] ?? 0);
  const tell = describeJog(words, letters);
  return (
    <section aria-label="The machine, to be jogged" className="machine-picture">
      <svg viewBox={`0 0 ${DRAWING.width} ${DRAWING.height}`} role="img" aria-label={`The machine with its axes jogged: ${tell}`}>
        {drawMachine(machine, shown).map((shape, k) => (
          <Drawn key={k} shape={shape} />
        ))}
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

const describeJog = (words: Readonly<Record<string, number>>, letters: readonly string[]): string => {
  const moved = letters.filter((l) => (words[l] ?? 0) !== 0).map((l) => `${l} ${words[l]! > 0 ? '+' : ''}${words[l]!}`);
  return moved.length > 0 ? moved.join(', ') : 'none is jogged';
};

function Drawn({ shape: s }: { shape: Shape }) {
  const points = s.kind === 'text' ? '' : s.points.map((p) => p.map((v) => v.toFixed(1)).join(',')).join(' ');
  if (s.kind === 'area') return <polygon points={points} fill={s.fill} stroke={s.edge} />;
  if (s.kind === 'line')
    return <polyline points={points} fill="none" stroke={s.stroke} strokeWidth={s.width} strokeLinecap={s.round ? 'round' : 'butt'} />;
  return (
    <text x={s.at[0]} y={s.at[1]} fontSize={s.size} fill={s.fill} fontWeight={s.bold ? 600 : 400}>
      {s.text}
    </text>
  );
}
