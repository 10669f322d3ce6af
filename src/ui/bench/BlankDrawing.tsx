'use client';

import type { Blank } from '../../core/job/schema';
import { formatLength, type Units } from '../common/format';

const WIDTH = 300;
const HEIGHT = 118;

/** A dimensioned side view of the blank that follows its numbers. */
export function BlankDrawing({ blank, units }: { blank: Blank; units: Units }) {
  const k = Math.min(196 / blank.lengthMm, 72 / blank.diameterMm);
  const w = Math.max(2, k * blank.lengthMm);
  const h = Math.max(2, k * blank.diameterMm);
  const bore = k * blank.boreMm;
  const x0 = 62;
  const yc = 50;
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="w-100 mb-2" role="img" aria-label="Side view of the blank" fontFamily="var(--mono)" fontSize={10}>
      <rect x={x0} y={yc - h / 2} width={w} height={h} fill="#efe4c8" stroke="var(--ink)" strokeWidth={1.2} />
      {bore > 0 && <rect x={x0} y={yc - bore / 2} width={w} height={bore} fill="none" stroke="var(--ink)" strokeDasharray="5 3" />}
      <line x1={x0 - 10} x2={x0 + w + 10} y1={yc} y2={yc} stroke="var(--soft)" strokeDasharray="10 3 2 3" />
      <g stroke="var(--verdigris)" fill="var(--verdigris)">
        <line x1={x0 - 18} x2={x0 - 18} y1={yc - h / 2} y2={yc + h / 2} />
        <path d={`M${x0 - 18} ${yc - h / 2} l-2.5 6 h5 z M${x0 - 18} ${yc + h / 2} l-2.5 -6 h5 z`} stroke="none" />
        <line x1={x0} x2={x0 + w} y1={yc + h / 2 + 14} y2={yc + h / 2 + 14} />
        <path d={`M${x0} ${yc + h / 2 + 14} l6 -2.5 v5 z M${x0 + w} ${yc + h / 2 + 14} l-6 -2.5 v5 z`} stroke="none" />
      </g>
      <text x={x0 - 23} y={yc + 3} textAnchor="end">Ø{formatLength(blank.diameterMm, units, 2)}</text>
      <text x={x0 + w / 2} y={yc + h / 2 + 27} textAnchor="middle">{formatLength(blank.lengthMm, units, 2)}</text>
      <g transform={`translate(${x0},${blank.zero === 'axis' ? yc : yc - h / 2})`}>
        <circle r={4.5} fill="var(--leaf)" stroke="var(--brass)" strokeWidth={2} />
        <text x={-8} y={blank.zero === 'axis' ? -5 : -4} textAnchor="end" fill="var(--brass)">0</text>
      </g>
      {blank.boreMm > 0 && <text x={x0 + w + 6} y={yc + 13}>bore {formatLength(blank.boreMm, units, 2)}</text>}
    </svg>
  );
}
