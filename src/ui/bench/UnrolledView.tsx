'use client';

import { memo, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { select } from 'd3-selection';
import { zoom, zoomIdentity, type ZoomBehavior, type ZoomTransform } from 'd3-zoom';
import { toTurnDeg, type Surface } from '../../core/surface/surface';
import type { LetteringView, PlanView } from '../../workers/planning.client';
import { formatDeg, formatLength } from '../common/format';
import { useBench, useJobPart, useView } from '../state/benchStore';
import { changeEach, selectOnly } from '../state/selection';
import type { DepthProbe } from './depthProbe';
import { DrawingGlass, GuideLayer } from './GuideLayer';
import { Handles } from './Handles';
import { colourOfDepth } from './passPaths';
import { MATERIALS } from './preview';
import { LEFT, Rulers, TOP } from './Rulers';
import { SheetGrid } from './SheetGrid';
import { ClearZones, Letters, Passes, ReadingMarks, ToolMark, toRingPath } from './SheetLayers';
import type { SheetView } from './sheetView';
import { collectSnapLines } from './snapping';
import { StretchKey, StretchSquares } from './Stretch';

interface Props {
  lettering: LetteringView | null;
  plan: PlanView | null;
  surface: Surface;
  probe: DepthProbe | null;
}

const MIN_PX_PER_MM = 0.2;
const MAX_PX_PER_MM = 4000;

interface Marquee {
  from: { px: number; py: number };
  to: { px: number; py: number };
}

/** The blank's surface laid flat, with rulers in mm along, mm and degrees round. Lettering is moved and sized here. */
export const UnrolledView = memo(function UnrolledView({ lettering, plan, surface, probe }: Props) {
  const bench = useBench();
  const units = useJobPart((j) => j.units);
  const material = useJobPart((j) => j.material);
  const cursor = useView((v) => v.cursor);
  const guides = useJobPart((j) => j.guides);
  const selection = useView((v) => v.selection);
  const gridMm = useView((v) => v.gridMm);
  const gridDeg = useView((v) => v.gridDeg);
  const [marquee, setMarquee] = useState<Marquee | null>(null);
  const [showPasses, setShowPasses] = useState(true);
  const showStretch = useView((v) => v.showStretch);
  const host = useRef<HTMLDivElement>(null);
  const svg = useRef<SVGSVGElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [t, setT] = useState<ZoomTransform>(zoomIdentity);
  const behaviour = useRef<ZoomBehavior<SVGSVGElement, unknown> | null>(null);
  const { domain, outline } = surface;
  const domainNow = useRef(domain);

  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => setSize({ width: entry!.contentRect.width, height: entry!.contentRect.height }));
    observer.observe(host.current!);
    return () => observer.disconnect();
  }, []);

  useEffect(() => {
    const made = zoom<SVGSVGElement, unknown>()
      .scaleExtent([MIN_PX_PER_MM, MAX_PX_PER_MM])
      .filter((event: MouseEvent) => event.type === 'wheel' || (!event.shiftKey && !(event.target as Element).closest('[data-grab]')))
      .on('zoom', (event: { transform: ZoomTransform }) => setT(event.transform));
    behaviour.current = made;
    select(svg.current!).call(made).on('dblclick.zoom', null);
  }, []);

  const fit = useCallback(() => {
    if (!behaviour.current || size.width < 120 || size.height < 80) return;
    const { minX, maxX, minY, maxY } = domainNow.current;
    const k = Math.min((size.width - LEFT - 20) / (maxX - minX), (size.height - TOP - 54) / (maxY - minY));
    const x = LEFT + (size.width - LEFT - k * (maxX - minX)) / 2 - k * minX;
    const y = TOP + (size.height - TOP - 24 - k * (maxY - minY)) / 2 + k * maxY;
    select(svg.current!).call(behaviour.current.transform, zoomIdentity.translate(x, y).scale(k));
  }, [size]);
  useEffect(() => {
    domainNow.current = domain;
  }, [domain]);
  // A new size of the sheet is shown whole; one that only moved with its seam stays under the hand that moves it.
  const [sheetWidth, sheetHeight] = [domain.maxX - domain.minX, domain.maxY - domain.minY];
  const blankKind = useJobPart((j) => j.blank.kind);
  useEffect(fit, [fit, blankKind, sheetWidth, sheetHeight]);

  const view = useMemo<SheetView>(
    () => ({
      k: t.k,
      toX: (x) => t.x + t.k * x,
      toY: (y) => t.y - t.k * y,
      fromX: (px) => (px - t.x) / t.k,
      fromY: (py) => (t.y - py) / t.k,
    }),
    [t],
  );

  const point = (event: React.PointerEvent): { x: number; y: number } => {
    const box = svg.current!.getBoundingClientRect();
    return { x: view.fromX(event.clientX - box.left), y: view.fromY(event.clientY - box.top) };
  };

  const pixel = (event: React.PointerEvent): { px: number; py: number } => {
    const box = svg.current!.getBoundingClientRect();
    return { px: event.clientX - box.left, py: event.clientY - box.top };
  };
  // All whose ink the marquee touches; a marquee over nothing selects nothing.
  const endMarquee = (m: Marquee) => {
    setMarquee(null);
    const [x0, x1] = [view.fromX(Math.min(m.from.px, m.to.px)), view.fromX(Math.max(m.from.px, m.to.px))];
    const [y0, y1] = [view.fromY(Math.max(m.from.py, m.to.py)), view.fromY(Math.min(m.from.py, m.to.py))];
    selectOnly(
      bench,
      (lettering?.inscriptions ?? [])
        .filter((i) => i.box.minX <= x1 && i.box.maxX >= x0 && i.box.minY <= y1 && i.box.maxY >= y0)
        .map((i) => i.id),
    );
  };
  const snapLines = useMemo(
    () =>
      collectSnapLines(
        surface,
        guides,
        (lettering?.inscriptions ?? []).filter((i) => !selection.includes(i.id) && i.box.minX <= i.box.maxX).map((i) => i.box),
        gridMm,
        gridDeg,
      ),
    [surface, guides, lettering, selection, gridMm, gridDeg],
  );
  const degPerMm = toTurnDeg(surface, 1);
  const radius = cursor ? surface.radiusAt(cursor.x, cursor.y) : surface.mmPerRad;
  const letterAt =
    cursor && lettering
      ? lettering.inscriptions
          .flatMap((i) => i.letters)
          .find((l) => cursor.x >= l.box.minX && cursor.x <= l.box.maxX && cursor.y >= l.box.minY && cursor.y <= l.box.maxY)
      : undefined;
  const mm = (v: number, digits = 2) => formatLength(v, units, units === 'mm' ? digits : digits + 1);
  const inside = cursor !== null && cursor.y >= domain.minY && cursor.y <= domain.maxY && surface.outsideMm(cursor.x, cursor.y) === 0;

  return (
    <div className="view unrolled" ref={host} data-testid="unrolled">
      <svg
        ref={svg}
        role="application"
        aria-label="Unrolled view: arrow keys move the selected lettering"
        tabIndex={0}
        onPointerDown={(e) => {
          if (!e.shiftKey || (e.target as Element).closest('[data-grab]')) return;
          e.currentTarget.setPointerCapture(e.pointerId);
          setMarquee({ from: pixel(e), to: pixel(e) });
        }}
        onPointerUp={() => marquee && endMarquee(marquee)}
        onPointerMove={(e) => {
          if (marquee) setMarquee({ ...marquee, to: pixel(e) });
          bench.view.setState({ cursor: point(e) });
        }}
        onPointerLeave={() => bench.view.setState({ cursor: null })}
        onKeyDown={(e) => nudge(e, bench, surface)}
      >
        <rect width={size.width} height={size.height} fill="var(--paper)" />
        <g transform={`translate(${t.x},${t.y}) scale(${t.k},${-t.k})`}>
          {outline ? (
            <path d={toRingPath(outline)} fill={MATERIALS[material].sheet} />
          ) : (
            <rect
              x={domain.minX}
              y={domain.minY}
              width={domain.maxX - domain.minX}
              height={domain.maxY - domain.minY}
              fill={MATERIALS[material].sheet}
            />
          )}
          <ClearZones surface={surface} />
          {showStretch && <StretchSquares surface={surface} lettering={lettering} />}
        </g>
        <SheetGrid view={view} surface={surface} point={point} onSeam={fit} />
        <g transform={`translate(${t.x},${t.y}) scale(${t.k},${-t.k})`}>
          <Letters
            lettering={lettering}
            selection={selection}
            period={surface.periodMm}
            minY={domain.minY}
            maxY={domain.maxY}
            mmPerRad={surface.mmPerRad}
            pale={showPasses && plan !== null && plan.laid.count > 0}
          />
          {showPasses && plan && <Passes plan={plan} />}
        </g>
        <ReadingMarks lettering={lettering} view={view} />
        <GuideLayer view={view} surface={surface} point={point} />
        <Handles lettering={lettering} view={view} surface={surface} point={point} snapLines={snapLines} />
        {marquee && (
          <rect
            x={Math.min(marquee.from.px, marquee.to.px)}
            y={Math.min(marquee.from.py, marquee.to.py)}
            width={Math.abs(marquee.to.px - marquee.from.px)}
            height={Math.abs(marquee.to.py - marquee.from.py)}
            fill="rgba(31,111,99,0.08)"
            stroke="var(--verdigris)"
            strokeDasharray="4 3"
            pointerEvents="none"
          />
        )}
        {cursor && letterAt && (
          <rect
            x={view.toX(letterAt.box.minX) - 2}
            y={view.toY(letterAt.box.maxY) - 2}
            width={t.k * (letterAt.box.maxX - letterAt.box.minX) + 4}
            height={t.k * (letterAt.box.maxY - letterAt.box.minY) + 4}
            fill="none"
            stroke="var(--brass)"
            strokeDasharray="3 2"
            pointerEvents="none"
          />
        )}
        {cursor && inside && (
          <g pointerEvents="none" stroke="var(--soft)" strokeWidth={0.6}>
            <line x1={view.toX(cursor.x)} x2={view.toX(cursor.x)} y1={TOP} y2={size.height} strokeDasharray="2 4" />
            <line y1={view.toY(cursor.y)} y2={view.toY(cursor.y)} x1={LEFT} x2={size.width} strokeDasharray="2 4" />
          </g>
        )}
        <ToolMark plan={plan} view={view} />
        <DrawingGlass view={view} point={point} />
        <Rulers
          view={view}
          size={size}
          degPerMm={surface.round ? degPerMm : null}
          unitMm={units === 'mm' ? 1 : 25.4}
          units={units}
          cursor={cursor}
        />
      </svg>
      <div className="corner">
        <GridChoice />
        {plan && (
          <button type="button" aria-pressed={showPasses} onClick={() => setShowPasses(!showPasses)}>
            Passes
          </button>
        )}
        <button type="button" onClick={fit}>
          Whole sheet
        </button>
      </div>
      {showPasses && plan && plan.laid.count > 0 && !showStretch && <DepthKey plan={plan} />}
      {showStretch && <StretchKey />}
      <div className="caption" data-testid="readout">
        {cursor && inside
          ? `x ${mm(cursor.x)} · ${surface.round ? `${formatDeg(cursor.y * degPerMm)} · arc ${mm((cursor.y / surface.mmPerRad) * radius)} · r ${mm(radius)}` : `y ${mm(cursor.y)}`}${probe ? ` · depth ${mm(probe(cursor.x, cursor.y), 3)}` : ''} ${units}${letterAt ? ` · ${letterAt.char}` : ''}`
          : !surface.round
            ? `sheet ${mm(sheetWidth)} × ${mm(sheetHeight)} ${units}`
            : surface.isometric
              ? `unrolled ${mm(sheetWidth)} × ${mm(sheetHeight)} ${units}, ${formatDeg(degPerMm * (units === 'mm' ? 1 : 25.4), 4)} per ${units}`
              : `${surface.developable ? 'slant' : 'profile'} ${mm(sheetWidth)} ${units}; round, the sheet is true at Ø ${mm(2 * surface.mmPerRad)}`}
      </div>
    </div>
  );
});

const GRIDS: readonly [string, number, number][] = [
  ['no grid', 0, 0],
  ['1 mm', 1, 0],
  ['5 mm', 5, 0],
  ['1 mm, 5°', 1, 5],
  ['1 mm, 15°', 1, 15],
];

function GridChoice() {
  const bench = useBench();
  const gridMm = useView((v) => v.gridMm);
  const gridDeg = useView((v) => v.gridDeg);
  const at = GRIDS.findIndex(([, mm, deg]) => mm === gridMm && deg === gridDeg);
  return (
    <select
      aria-label="Grid that dragging snaps to"
      value={at}
      onChange={(e) => {
        const [, mm, deg] = GRIDS[Number(e.target.value)]!;
        bench.view.setState({ gridMm: mm, gridDeg: deg });
      }}
    >
      {GRIDS.map(([name], k) => (
        <option key={name} value={k}>
          {name}
        </option>
      ))}
    </select>
  );
}

const NUDGE_MM = 0.1;

function nudge(event: React.KeyboardEvent, bench: ReturnType<typeof useBench>, surface: Surface): void {
  // Alt goes fine, Shift goes far.
  const step = event.shiftKey ? 10 * NUDGE_MM : event.altKey ? NUDGE_MM / 10 : NUDGE_MM;
  const move = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] }[event.key];
  const { selection } = bench.view.getState();
  if (!move || selection.length === 0) return;
  event.preventDefault();
  bench.edit(
    'nudge',
    changeEach(selection, (i) => ({
      at: { xMm: round(i.at.xMm + move[0]!, 1e6), turnDeg: round(i.at.turnDeg + toTurnDeg(surface, move[1]!), 1e6) },
    })),
  );
}

const round = (v: number, per: number): number => Math.round(v * per) / per;

function DepthKey({ plan }: { plan: PlanView }) {
  const units = useJobPart((j) => j.units);
  const deepest = Math.max(0, ...plan.cuts.map((c) => c.maxDepthMm));
  const stops = Array.from({ length: 8 }, (_, k) => colourOfDepth(k / 7));
  return (
    <div className="key">
      0<span style={{ background: `linear-gradient(to right, ${stops.join(',')})` }} />
      {formatLength(deepest, units)} {units} deep
    </div>
  );
}
