'use client';

import { roundTo } from '../../core/base/round';
import { scaleLinear } from 'd3-scale';
import type { SheetView } from './sheetView';

/** Room for the rulers, px: mm and degrees stand side by side on the left. */
export const LEFT = 74;
export const TOP = 22;

interface RulerProps {
  view: SheetView;
  size: { width: number; height: number };
  /** Degrees a millimetre round; null where nothing turns. */
  degPerMm: number | null;
  unitMm: number;
  units: string;
}

/** Rulers in mm along, mm and degrees round. */
export function Rulers({ view, size, degPerMm, unitMm, units }: RulerProps) {
  if (size.width < 100) return null;
  const alongRange: [number, number] = [view.fromX(LEFT) / unitMm, view.fromX(size.width) / unitMm];
  const roundRange: [number, number] = [view.fromY(size.height) / unitMm, view.fromY(TOP) / unitMm];
  const along = scaleLinear()
    .domain(alongRange)
    .ticks(Math.max(2, (size.width - LEFT) / 60));
  const around = scaleLinear()
    .domain(roundRange)
    .ticks(Math.max(2, (size.height - TOP) / 46));
  const perMm = degPerMm ?? 1;
  const degRange = roundRange.map((v) => v * unitMm * perMm);
  const step = [1, 2, 5, 10, 15, 30, 45, 90, 180].find((s) => ((degRange[1]! - degRange[0]!) / s) * 40 <= size.height) ?? 0;
  const degrees: number[] =
    degPerMm === null
      ? []
      : step
        ? Array.from(
            { length: Math.floor(degRange[1]! / step) - Math.ceil(degRange[0]! / step) + 1 },
            (_, k) => (Math.ceil(degRange[0]! / step) + k) * step,
          )
        : scaleLinear().domain(degRange).ticks(6);
  const show = (v: number) => String(roundTo(v, 4));
  return (
    <g pointerEvents="none">
      <rect x={0} y={0} width={size.width} height={TOP} fill="var(--leaf)" />
      <rect x={0} y={0} width={LEFT} height={size.height} fill="var(--leaf)" />
      <line x1={LEFT} x2={size.width} y1={TOP} y2={TOP} stroke="var(--rule)" />
      <line x1={LEFT} x2={LEFT} y1={TOP} y2={size.height} stroke="var(--rule)" />
      <line x1={LEFT / 2 + 2} x2={LEFT / 2 + 2} y1={TOP} y2={size.height} stroke="var(--rule)" />
      {along.map((v) => (
        <g key={v} transform={`translate(${view.toX(v * unitMm)},0)`}>
          <line y1={TOP - 5} y2={TOP} stroke="var(--soft)" />
          <text y={TOP - 8} textAnchor="middle">
            {show(v)}
          </text>
        </g>
      ))}
      {around.map((v) => (
        <g key={v} transform={`translate(0,${view.toY(v * unitMm)})`}>
          <line x1={LEFT / 2 - 3} x2={LEFT / 2 + 2} stroke="var(--soft)" />
          <text x={LEFT / 2 - 5} y={3} textAnchor="end">
            {show(v)}
          </text>
        </g>
      ))}
      {degrees.map((v) => (
        <g key={v} transform={`translate(0,${view.toY(v / perMm)})`}>
          <line x1={LEFT - 5} x2={LEFT} stroke="var(--soft)" />
          <text x={LEFT - 7} y={3} textAnchor="end">
            {show(v)}°
          </text>
        </g>
      ))}
      <rect x={0} y={0} width={LEFT} height={TOP} fill="var(--leaf)" />
      <text x={LEFT / 2 - 5} y={TOP - 8} textAnchor="end">
        {units}
      </text>
      <text x={LEFT - 7} y={TOP - 8} textAnchor="end">
        {degPerMm === null ? '' : 'turn'}
      </text>
    </g>
  );
}
