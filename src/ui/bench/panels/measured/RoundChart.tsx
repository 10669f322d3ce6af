'use client';

import { scaleLinear } from 'd3-scale';
import type { Measured } from '../../../../core/job/schema';
import { isArc, isTouched, listTouched } from '../../../../core/probe/grid';
import { createMeasuredMap } from '../../../../core/probe/measuredMap';
import type { Surface } from '../../../../core/surface/surface';
import { formatLength, type Units } from '../../../common/format';
import { toPlaceColour } from './colours';

const SIZE = 230;
/** Rings of the chart: the drawn blank in the middle of the range. */
const [INNER, OUTER] = [34, 96];
const STEPS = 180;
const RAD = Math.PI / 180;

/** Each ring that was measured, far larger than life; lines across where the blank does not close on itself. */
export function RoundChart({ measured, surface, units }: { measured: Measured; surface: Surface; units: Units }) {
  const { xMm, turnDeg, mm } = measured;
  const most = Math.max(0.001, ...listTouched(measured, surface).map(Math.abs));
  const middle = SIZE / 2;
  const map = createMeasuredMap(measured, { periodMm: surface.periodMm === null ? null : 360, mmPerRad: 180 / Math.PI });
  if (surface.periodMm === null) return <AcrossChart measured={measured} surface={surface} most={most} units={units} />;
  // Where an arc alone was touched, nothing is shown of the rest.
  const [from, to] = isArc(turnDeg) ? [turnDeg[0]!, turnDeg[turnDeg.length - 1]!] : [0, 360];
  const radius = scaleLinear().domain([-most, most]).range([INNER, OUTER]);
  // Turn 0 is on top, and turns grow as the rotary brings them there: seen from the datum end, against the clock.
  const place = (deg: number, v: number): string => {
    const r = radius(v);
    return `${(middle - r * Math.sin(deg * RAD)).toFixed(2)},${(middle - r * Math.cos(deg * RAD)).toFixed(2)}`;
  };
  const ticks = radius.ticks(4);
  return (
    <figure className="measured-chart">
      <svg
        viewBox={`0 0 ${SIZE} ${SIZE}`}
        role="img"
        aria-label={`The rings as measured, up to ${formatLength(most, units)} ${units} off the drawn blank`}
      >
        {ticks.map((v) => (
          <g key={v}>
            <circle cx={middle} cy={middle} r={radius(v)} className={v === 0 ? 'drawn' : 'tick'} />
            <text x={middle + 3} y={middle - radius(v) - 2}>
              {v > 0 ? '+' : ''}
              {formatLength(v, units).replace('-', '−')}
            </text>
          </g>
        ))}
        {[0, 90, 180, -90].map((deg) => {
          const [x, y] = place(deg, most * 1.28)
            .split(',')
            .map(Number) as [number, number];
          return (
            <text key={deg} x={x} y={y + 3} textAnchor="middle" className="turn">
              {deg === -90 ? '−90°' : `${deg}°`}
            </text>
          );
        })}
        {xMm.map((x, i) => (
          <polyline
            key={x}
            points={Array.from({ length: STEPS + 1 }, (_, k) => from + (k / STEPS) * (to - from))
              .map((deg) => place(deg, map(x, deg)))
              .join(' ')}
            fill="none"
            stroke={toPlaceColour(i, xMm.length)}
            strokeWidth={1.6}
          />
        ))}
        {xMm.flatMap((x, i) =>
          turnDeg.map((deg, j) => {
            const [cx, cy] = place(deg, mm[i]![j]!).split(',');
            return <circle key={`${x} ${deg}`} cx={cx} cy={cy} r={2.2} fill={toPlaceColour(i, xMm.length)} />;
          }),
        )}
      </svg>
      <figcaption>
        <Along xMm={xMm} units={units} />
        {units} along; dashed is the drawn blank, seen from its datum end
      </figcaption>
    </figure>
  );
}

/** The places of a list as figures, one after another in the colours of their lines. */
function Along({ xMm, units }: { xMm: readonly number[]; units: Units }) {
  return xMm.map((own, i) => (
    <span key={own} style={{ color: toPlaceColour(i, xMm.length) }}>
      {formatLength(own, units, 1).replace('-', '−')}{' '}
    </span>
  ));
}

function AcrossChart({ measured, surface, most, units }: { measured: Measured; surface: Surface; most: number; units: Units }) {
  const { xMm, turnDeg, mm } = measured;
  const x = scaleLinear()
    .domain([turnDeg[0]!, turnDeg[turnDeg.length - 1]! || turnDeg[0]! + 1])
    .range([34, SIZE - 8]);
  const y = scaleLinear().domain([-most, most]).range([118, 12]);
  return (
    <figure className="measured-chart">
      <svg
        viewBox={`0 0 ${SIZE} 136`}
        role="img"
        aria-label={`Heights across as measured, up to ${formatLength(most, units)} ${units} off the drawn blank`}
      >
        {y.ticks(4).map((v) => (
          <g key={v}>
            <line x1={34} x2={SIZE - 8} y1={y(v)} y2={y(v)} className={v === 0 ? 'drawn' : 'tick'} />
            <text x={2} y={y(v) + 3}>
              {formatLength(v, units).replace('-', '−')}
            </text>
          </g>
        ))}
        {xMm.map((own, i) => (
          <polyline
            key={own}
            points={turnDeg
              .flatMap((t, j) => (isTouched(surface, own, t) ? [`${x(t).toFixed(1)},${y(mm[i]![j]!).toFixed(1)}`] : []))
              .join(' ')}
            fill="none"
            stroke={toPlaceColour(i, xMm.length)}
            strokeWidth={1.6}
          />
        ))}
      </svg>
      <figcaption>
        Across, one line for each place along: <Along xMm={xMm} units={units} />
        {units}
      </figcaption>
    </figure>
  );
}
