'use client';

import { useMemo } from 'react';
import { scaleLinear } from 'd3-scale';
import type { Measured } from '../../../../core/job/schema';
import { createKnown, isTouched, listTouched } from '../../../../core/probe/grid';
import { createMeasuredMap } from '../../../../core/probe/measuredMap';
import { fromTurnDeg, toTurnDeg, type Surface } from '../../../../core/surface/surface';
import { formatDeg, formatLength, type Units } from '../../../common/format';
import { toOffColour } from './colours';

const [WIDTH, LEFT, BOTTOM] = [300, 40, 18];
/** Half of what a figure under the map takes. */
const HALF_LABEL = 8;
/** Cells of the map. */
const [COLUMNS, ROWS] = [60, 45];

/** How far out the surface stands, over the sheet: along to the right, round upward, as the sheet lies. */
export function MeasuredMap({ measured, surface, units }: { measured: Measured; surface: Surface; units: Units }) {
  const { minX, maxX, minY, maxY } = surface.domain;
  const height = Math.max(90, Math.min(200, ((WIDTH - LEFT) * (maxY - minY)) / Math.max(1, maxX - minX)));
  const most = Math.max(0.001, ...listTouched(measured, surface).map(Math.abs));
  const x = scaleLinear().domain([minX, maxX]).range([LEFT, WIDTH]);
  const y = scaleLinear().domain([minY, maxY]).range([height, 4]);
  const closed = surface.periodMm !== null;
  const cells = useMemo(() => {
    const map = createMeasuredMap(measured, surface);
    const isKnown = createKnown(measured, surface);
    return Array.from({ length: COLUMNS * ROWS }, (_, k) => {
      const [i, j] = [k % COLUMNS, Math.floor(k / COLUMNS)];
      const [cx, cy] = [minX + ((i + 0.5) / COLUMNS) * (maxX - minX), minY + ((j + 0.5) / ROWS) * (maxY - minY)];
      return { i, j, v: map(cx, cy), known: isKnown(cx, cy) };
    });
  }, [measured, surface, minX, maxX, minY, maxY]);
  const [w, h] = [(WIDTH - LEFT) / COLUMNS, (height - 4) / ROWS];
  const turns = scaleLinear()
    .domain([toTurnDeg(surface, minY), toTurnDeg(surface, maxY)])
    .ticks(4);
  return (
    <figure className="measured-chart">
      <svg
        viewBox={`0 0 ${WIDTH} ${height + BOTTOM}`}
        role="img"
        aria-label={`Map of the blank as measured, ${formatLength(most, units)} ${units} at the most`}
      >
        {[true, false].map((known) => (
          <g key={String(known)} className={known ? undefined : 'guessed'}>
            {cells
              .filter((c) => c.known === known)
              .map(({ i, j, v }) => (
                <rect
                  key={`${i} ${j}`}
                  x={LEFT + i * w}
                  y={height - (j + 1) * h}
                  width={w + 0.4}
                  height={h + 0.4}
                  fill={toOffColour(v / most)}
                />
              ))}
          </g>
        ))}
        {measured.xMm.flatMap((px) =>
          measured.turnDeg
            .filter((deg) => isTouched(surface, px, deg))
            .map((deg) => (
              <circle key={`${px} ${deg}`} cx={x(px)} cy={y(wrapInto(fromTurnDeg(surface, deg), surface))} r={1.4} className="place" />
            )),
        )}
        {turns.map((deg) => (
          <text key={deg} x={LEFT - 4} y={y(fromTurnDeg(surface, deg)) + 3} textAnchor="end">
            {closed ? formatDeg(deg) : formatLength(deg, units, 0)}
          </text>
        ))}
        {x.ticks(5).map((v) => (
          <text key={v} x={x(v)} y={height + 13} textAnchor={x(v) > WIDTH - HALF_LABEL ? 'end' : 'middle'}>
            {formatLength(v, units, 0)}
          </text>
        ))}
      </svg>
      <figcaption>
        <span className="scale" style={{ background: `linear-gradient(to right, ${[-1, -0.5, 0, 0.5, 1].map(toOffColour).join(', ')})` }} />{' '}
        −{formatLength(most, units)} to +{formatLength(most, units)} {units} out of the drawn blank; faint past the places touched
      </figcaption>
    </figure>
  );
}

/** A sheet y brought into the domain of a closed blank. */
function wrapInto(y: number, { domain, periodMm }: Surface): number {
  return periodMm === null ? y : y - periodMm * Math.floor((y - domain.minY) / periodMm);
}
