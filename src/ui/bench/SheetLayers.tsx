'use client';

import { isOutlineOnly } from '../../core/cut/kinds/registry';
import { memo, useEffect, useMemo } from 'react';
import type { Rings } from '../../core/base/rings';
import { ringsToPathData } from '../../core/base/svgPath';
import { isRoundBlank, type Blank } from '../../core/job/schema';
import { getLengthMm, getWidthMm, getZeroPlace, type Zero } from '../../core/job/zero';
import { fromTurnDeg, type Surface } from '../../core/surface/surface';
import type { LetteringView, PlanView } from '../../workers/planning.client';
import { useBench, useJobPart, useView } from '../state/benchStore';
import { selectOnly, toggleSelected } from '../state/selection';
import { markDrawn } from './marks';
import { findMove } from './moved';
import { colourOfDepth, DEPTH_BANDS, toPassPaths } from './passPaths';
import { useToolPlace } from './playhead';
import type { SheetView } from './sheetView';

/** Path data of rings, mm. */
export const toRingPath = (rings: Rings): string => ringsToPathData(rings, { closed: true, decimals: 3 });

/** Ends that stay clear, hatched. */
export function ClearZones({ surface }: { surface: Surface }) {
  const blank = useJobPart((j) => j.blank);
  if (!isRoundBlank(blank)) return null;
  const { minX, maxX, minY, maxY } = surface.domain;
  return [
    [minX, Math.min(maxX, minX + blank.clearDatumMm)],
    [Math.max(minX, maxX - blank.clearFarMm), maxX],
  ].map(
    ([a, b], k) =>
      b! > a! && (
        <rect key={k} x={a} y={minY} width={b! - a!} height={maxY - minY} fill="var(--oxide)" opacity={0.16} pointerEvents="none">
          <title>stays clear</title>
        </rect>
      ),
  );
}

/** The lettering on the sheet, to be taken hold of. */
export const Letters = memo(function Letters({
  lettering,
  selection,
  period,
  minY,
  maxY,
  mmPerRad,
  pale,
  engraved,
}: {
  lettering: LetteringView | null;
  selection: readonly string[];
  period: number | null;
  minY: number;
  maxY: number;
  mmPerRad: number;
  pale: boolean;
  /** The cut sheet is seen below: outlines alone. */
  engraved: boolean;
}) {
  const bench = useBench();
  const inscriptions = useJobPart((j) => j.inscriptions);
  const cuts = useJobPart((j) => j.cuts);
  useEffect(() => markDrawn('unrolled'), [lettering]);
  useEffect(() => markDrawn('moved'), [inscriptions]);
  return lettering?.inscriptions.map((i) => {
    // A drag is shown at once by moving what is there; the lettering set anew follows.
    const move = findMove(
      i,
      inscriptions.find((own) => own.id === i.id),
    );
    const along = move.dxMm,
      round = (move.dTurnDeg * Math.PI * mmPerRad) / 180;
    // Lettering over the seam shows again where the sheet goes on.
    const images =
      period === null ? [0] : [0, i.box.maxY > maxY ? -period : 0, i.box.minY < minY ? period : 0].filter((v, k) => k === 0 || v !== 0);
    const colour = selection.includes(i.id) ? '#6f4f0d' : 'var(--ink)';
    // A shape that is only gone round holds other lettering: that is seen in it, and can be grabbed.
    const isHollow = isOutlineOnly(cuts, i.id);
    const grab = {
      'data-inscription': i.id,
      'data-grab': 'select',
      onPointerDown: (e: React.PointerEvent) => {
        if (e.ctrlKey || e.metaKey || e.shiftKey) toggleSelected(bench, i.id);
        else selectOnly(bench, [i.id]);
        bench.view.setState({ station: 'lettering' });
      },
    };
    return images.map((dy) => (
      <g key={`${i.id}${dy}`} transform={dy || along || round ? `translate(${along},${dy + round})` : undefined} opacity={dy ? 0.4 : 1}>
        {i.areaData && (
          <path
            d={i.areaData}
            fill={colour}
            fillOpacity={engraved || isHollow ? 0 : pale ? 0.3 : 0.85}
            stroke={engraved || isHollow ? colour : undefined}
            strokeOpacity={0.7}
            strokeWidth={isHollow ? 1.2 : 0.7}
            pointerEvents={isHollow ? 'stroke' : undefined}
            vectorEffect="non-scaling-stroke"
            {...grab}
          />
        )}
        {i.strokeData && (
          <path
            d={i.strokeData}
            fill="none"
            stroke={colour}
            strokeOpacity={engraved ? 0.25 : pale ? 0.35 : 1}
            strokeWidth={engraved ? 0.7 : 1.6}
            vectorEffect="non-scaling-stroke"
            {...grab}
          />
        )}
      </g>
    ));
  });
});

/** Passes coloured by depth. */
export const Passes = memo(function Passes({ plan }: { plan: PlanView }) {
  const paths = useMemo(() => toPassPaths(plan), [plan]);
  return (
    <g pointerEvents="none" fill="none" strokeWidth={1} data-testid="passes">
      {paths.map(({ band, data }) => (
        <path key={band} d={data} stroke={colourOfDepth(band / (DEPTH_BANDS - 1))} vectorEffect="non-scaling-stroke" />
      ))}
    </g>
  );
});

/** Where each inscription begins to read, in which direction, and which way its letters stand up. */
export function ReadingMarks({ lettering, view }: { lettering: LetteringView | null; view: SheetView }) {
  const selection = useView((v) => v.selection);
  return (
    <g pointerEvents="none" stroke="var(--verdigris)" fill="none" strokeWidth={1.4} data-testid="reading-marks">
      {lettering?.inscriptions
        .filter((i) => selection.includes(i.id) && i.box.minX <= i.box.maxX)
        .map((i) => {
          const [x, y, rx, ry, ux, uy] = i.reading as unknown as [number, number, number, number, number, number];
          const at = (a: number, b: number) => `${view.toX(x) + 14 * (a * rx + b * ux)} ${view.toY(y) - 14 * (a * ry + b * uy)}`;
          return <path key={i.id} d={`M${at(-0.5, 0.9)}L${at(-0.5, 0)}L${at(0.9, 0)}M${at(0.5, 0.25)}L${at(0.9, 0)}L${at(0.5, -0.25)}`} />;
        })}
    </g>
  );
}

/** Places along the sheet among which the machine's zero is sought. */
const ZERO_STEPS = 400;

/** Where the words of the machine are 0, while its zero is chosen and its program read. */
export function ZeroMark({ surface, view }: { surface: Surface; view: SheetView }) {
  const station = useView((v) => v.station);
  const blank = useJobPart((j) => j.blank);
  const zero = useJobPart((j) => j.zero);
  const place = useMemo(() => findZero(surface, blank, zero), [surface, blank, zero]);
  if (station !== 'blank' && station !== 'program') return null;
  return (
    <g
      pointerEvents="none"
      transform={`translate(${view.toX(place.x)},${view.toY(place.y)})`}
      stroke="var(--oxide)"
      data-testid="zero-mark"
    >
      <circle r={7} fill="#fffdf6" fillOpacity={0.8} strokeWidth={1.5} />
      <path d="M-13 0H13M0 -13V13" strokeWidth={1.2} />
      <text x={10} y={-9} stroke="none" fill="var(--oxide)" fontSize={11}>
        zero
      </text>
    </g>
  );
}

/** The sheet place over the machine's zero: by the surface's own points along, since a sheet may run along a slant. O(steps). */
function findZero(surface: Surface, blank: Blank, zero: Zero): { x: number; y: number } {
  const { minX, maxX, minY, maxY } = surface.domain;
  const { xMm, turnDeg } = getZeroPlace(blank, zero);
  const isAcross = getWidthMm(blank) !== null;
  const across = { low: minY, middle: (minY + maxY) / 2, high: maxY }[zero.across];
  const y = isAcross ? across : fromTurnDeg(surface, turnDeg);
  if (getLengthMm(blank) === null) return { x: 0, y };
  const point = new Float64Array(3);
  let [x, least] = [minX, Infinity];
  for (let k = 0; k <= ZERO_STEPS; k++) {
    const at = minX + (k / ZERO_STEPS) * (maxX - minX);
    surface.pointInto(at, y, point);
    if (Math.abs(point[0]! - xMm) < least) [x, least] = [at, Math.abs(point[0]! - xMm)];
  }
  return { x, y };
}

/** Where the tool stands at the playhead. */
export function ToolMark({ plan, view }: { plan: PlanView | null; view: SheetView }) {
  const place = useToolPlace(plan);
  const finished = useView((v) => v.playS === Infinity);
  if (!place || finished) return null;
  return (
    <g pointerEvents="none" transform={`translate(${view.toX(place.x)},${view.toY(place.y)})`} data-testid="tool-mark">
      <circle r={6} fill="none" stroke="var(--verdigris)" strokeWidth={2} />
      <circle r={1.5} fill="var(--verdigris)" />
    </g>
  );
}
