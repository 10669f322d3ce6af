'use client';

import { useState } from 'react';
import type { Measured } from '../../../../core/job/schema';
import type { Setup } from '../../../../core/pipeline/setup';
import { isTouched, listPlaces, type ProbeGrid } from '../../../../core/probe/grid';
import { formatDeg, formatLength } from '../../../common/format';
import { QuantityField } from '../../../common/QuantityField';
import { useJob } from '../../../state/benchStore';

interface Props {
  setup: Setup;
  grid: ProbeGrid;
  measured: Measured | null;
  keep(mm: number[][]): void;
}

/** Places that are told apart no farther than this are the same, mm or degrees. */
const SAME = 1e-6;
const isSame = (a: readonly number[], b: readonly number[]): boolean =>
  a.length === b.length && a.every((v, k) => Math.abs(v - b[k]!) < SAME);

/** What a dial gauge read at each place of the grid, typed: how far the surface stands out of the drawn one. */
export function TypedTable({ setup, grid, measured, keep }: Props) {
  const { units } = useJob();
  const { xMm, turnDeg } = listPlaces(setup.job.blank, setup.surface, grid);
  const fits = measured && isSame(measured.xMm, xMm) && isSame(measured.turnDeg, turnDeg);
  const [mm, setMm] = useState<number[][]>(() => (fits ? measured.mm : xMm.map(() => turnDeg.map(() => 0))));
  const isGrid = mm.length === xMm.length && mm[0]!.length === turnDeg.length;
  const shown = isGrid ? mm : xMm.map(() => turnDeg.map(() => 0));
  /** Beside the blank there is nothing to read. */
  const touched = (i: number, j: number): boolean => isTouched(setup.surface, xMm[i]!, turnDeg[j]!);
  const put = (i: number, j: number, v: number): string | null => {
    if (Math.abs(v) > 20) return 'must be within 20 mm of the drawn blank';
    const next = shown.map((row, k) => (k === i ? row.map((own, l) => (l === j ? v : own)) : row));
    setMm(next);
    keep(next.map((row, k) => row.map((own, l) => (touched(k, l) ? own : NaN))));
    return null;
  };
  const closed = setup.surface.periodMm !== null;
  return (
    <div className="typed-places">
      <p className="why mb-1">
        How far out the surface stands of the drawn one, minus for further in: a row for each {closed ? 'turn' : 'place across'}, a column
        for each place along.
      </p>
      <table className="list">
        <thead>
          <tr>
            <th>{closed ? 'turn' : 'across'}</th>
            {xMm.map((x) => (
              <th key={x} className="num">
                {formatLength(x, units, 1)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {turnDeg.map((turn, j) => (
            <tr key={turn}>
              <th className="num">{closed ? formatDeg(turn) : formatLength(turn, units, 1)}</th>
              {xMm.map((x, i) => (
                <td key={x}>
                  {touched(i, j) && (
                    <QuantityField
                      kind="length"
                      value={shown[i]![j]!}
                      units={units}
                      ariaLabel={`At ${formatLength(x, units, 1)} along, ${closed ? `turn ${formatDeg(turn)}` : `${formatLength(turn, units, 1)} across`}`}
                      onValue={(v) => put(i, j, v)}
                    />
                  )}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
