'use client';

import { memo, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { scaleLinear } from 'd3-scale';
import { select } from 'd3-selection';
import { zoom, zoomIdentity, type ZoomBehavior, type ZoomTransform } from 'd3-zoom';
import { getRing, type Rings } from '../../core/base/rings';
import { isRoundBlank } from '../../core/job/schema';
import { toTurnDeg, type Surface } from '../../core/surface/surface';
import type { LetteringView, PlanView } from '../../workers/planning.client';
import { formatDeg, formatLength } from '../common/format';
import { useBench, useJobPart, useView } from '../state/benchStore';
import type { DepthProbe } from './depthProbe';
import { colourOfDepth, DEPTH_BANDS, toPassPaths } from './passPaths';
import { MATERIALS } from './preview';
import { DrawingGlass, GuideLayer } from './GuideLayer';
import { Handles } from './Handles';
import { collectSnapLines } from './snapping';
import { changeEach, selectOnly, toggleSelected } from '../state/selection';
import { markDrawn } from './marks';
import { findMove } from './moved';
import { useToolPlace } from './playhead';
import { StretchKey, StretchSquares } from './Stretch';

interface Props {
  lettering: LetteringView | null;
  plan: PlanView | null;
  surface: Surface;
  probe: DepthProbe | null;
}

/** Room for the rulers, px: mm and degrees stand side by side on the left. */
const LEFT = 74;
const TOP = 22;
const MIN_PX_PER_MM = 0.2;
const MAX_PX_PER_MM = 4000;

interface Marquee {
  from: { px: number; py: number };
  to: { px: number; py: number };
}

/** Screen place of sheet points: x to the right, y up. */
export interface SheetView {
  k: number;
  toX(x: number): number;
  toY(y: number): number;
  fromX(px: number): number;
  fromY(py: number): number;
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
  useEffect(fit, [fit, surface.kind, sheetWidth, sheetHeight]);

  const view = useMemo<SheetView>(() => ({
    k: t.k,
    toX: (x) => t.x + t.k * x,
    toY: (y) => t.y - t.k * y,
    fromX: (px) => (px - t.x) / t.k,
    fromY: (py) => (t.y - py) / t.k,
  }), [t]);

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
    selectOnly(bench, (lettering?.inscriptions ?? []).filter((i) => i.box.minX <= x1 && i.box.maxX >= x0 && i.box.minY <= y1 && i.box.maxY >= y0).map((i) => i.id));
  };
  const snapLines = useMemo(
    () => collectSnapLines(surface, guides, (lettering?.inscriptions ?? []).filter((i) => !selection.includes(i.id) && i.box.minX <= i.box.maxX).map((i) => i.box), gridMm, gridDeg),
    [surface, guides, lettering, selection, gridMm, gridDeg],
  );
  const degPerMm = toTurnDeg(surface, 1);
  const radius = cursor ? surface.radiusAt(cursor.x, cursor.y) : surface.mmPerRad;
  const letterAt = cursor && lettering
    ? lettering.inscriptions.flatMap((i) => i.letters).find((l) => cursor.x >= l.box.minX && cursor.x <= l.box.maxX && cursor.y >= l.box.minY && cursor.y <= l.box.maxY)
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
          {outline
            ? <path d={toRingPath(outline)} fill={MATERIALS[material].sheet} />
            : <rect x={domain.minX} y={domain.minY} width={domain.maxX - domain.minX} height={domain.maxY - domain.minY} fill={MATERIALS[material].sheet} />}
          <ClearZones surface={surface} />
          {showStretch && <StretchSquares surface={surface} lettering={lettering} />}
        </g>
        <Grid view={view} surface={surface} point={point} onSeam={fit} />
        <g transform={`translate(${t.x},${t.y}) scale(${t.k},${-t.k})`}>
          <Letters lettering={lettering} selection={selection} period={surface.periodMm} minY={domain.minY} maxY={domain.maxY} mmPerRad={surface.mmPerRad} pale={showPasses && plan !== null && plan.laid.count > 0} />
          {showPasses && plan && <Passes plan={plan} />}
        </g>
        <ReadingMarks lettering={lettering} view={view} />
        <GuideLayer view={view} surface={surface} point={point} />
        <Handles lettering={lettering} view={view} surface={surface} point={point} snapLines={snapLines} />
        {marquee && <rect x={Math.min(marquee.from.px, marquee.to.px)} y={Math.min(marquee.from.py, marquee.to.py)} width={Math.abs(marquee.to.px - marquee.from.px)} height={Math.abs(marquee.to.py - marquee.from.py)} fill="rgba(31,111,99,0.08)" stroke="var(--verdigris)" strokeDasharray="4 3" pointerEvents="none" />}
        {cursor && letterAt && (
          <rect x={view.toX(letterAt.box.minX) - 2} y={view.toY(letterAt.box.maxY) - 2} width={t.k * (letterAt.box.maxX - letterAt.box.minX) + 4} height={t.k * (letterAt.box.maxY - letterAt.box.minY) + 4} fill="none" stroke="var(--brass)" strokeDasharray="3 2" pointerEvents="none" />
        )}
        {cursor && inside && (
          <g pointerEvents="none" stroke="var(--soft)" strokeWidth={0.6}>
            <line x1={view.toX(cursor.x)} x2={view.toX(cursor.x)} y1={TOP} y2={size.height} strokeDasharray="2 4" />
            <line y1={view.toY(cursor.y)} y2={view.toY(cursor.y)} x1={LEFT} x2={size.width} strokeDasharray="2 4" />
          </g>
        )}
        <ToolMark plan={plan} view={view} />
        <DrawingGlass view={view} point={point} />
        <Rulers view={view} size={size} degPerMm={surface.round ? degPerMm : null} unitMm={units === 'mm' ? 1 : 25.4} units={units} cursor={cursor} />
      </svg>
      <div className="corner">
        <GridChoice />
        {plan && <button type="button" aria-pressed={showPasses} onClick={() => setShowPasses(!showPasses)}>Passes</button>}
        <button type="button" onClick={fit}>Whole sheet</button>
      </div>
      {showPasses && plan && plan.laid.count > 0 && !showStretch && <DepthKey plan={plan} />}
      {showStretch && <StretchKey />}
      <div className="caption" data-testid="readout">
        {cursor && inside
          ? `x ${mm(cursor.x)} · ${surface.round ? `${formatDeg(cursor.y * degPerMm)} · arc ${mm((cursor.y / surface.mmPerRad) * radius)} · r ${mm(radius)}` : `y ${mm(cursor.y)}`}${probe ? ` · depth ${mm(probe(cursor.x, cursor.y), 3)}` : ''} ${units}${letterAt ? ` · ${letterAt.char}` : ''}`
          : !surface.round ? `sheet ${mm(sheetWidth)} × ${mm(sheetHeight)} ${units}`
            : surface.isometric ? `unrolled ${mm(sheetWidth)} × ${mm(sheetHeight)} ${units}, ${formatDeg(degPerMm * (units === 'mm' ? 1 : 25.4), 4)} per ${units}`
              : `${surface.kind === 'cone' ? 'slant' : 'profile'} ${mm(sheetWidth)} ${units}; round, the sheet is true at Ø ${mm(2 * surface.mmPerRad)}`}
      </div>
    </div>
  );
});

const GRIDS: readonly [string, number, number][] = [['no grid', 0, 0], ['1 mm', 1, 0], ['5 mm', 5, 0], ['1 mm, 5°', 1, 5], ['1 mm, 15°', 1, 15]];

function GridChoice() {
  const bench = useBench();
  const gridMm = useView((v) => v.gridMm);
  const gridDeg = useView((v) => v.gridDeg);
  const at = GRIDS.findIndex(([, mm, deg]) => mm === gridMm && deg === gridDeg);
  return (
    <select aria-label="Grid that dragging snaps to" value={at} onChange={(e) => {
      const [, mm, deg] = GRIDS[Number(e.target.value)]!;
      bench.view.setState({ gridMm: mm, gridDeg: deg });
    }}>
      {GRIDS.map(([name], k) => <option key={name} value={k}>{name}</option>)}
    </select>
  );
}

/** Where each inscription begins to read, in which direction, and which way its letters stand up. */
function ReadingMarks({ lettering, view }: { lettering: LetteringView | null; view: SheetView }) {
  const selection = useView((v) => v.selection);
  return (
    <g pointerEvents="none" stroke="var(--verdigris)" fill="none" strokeWidth={1.4} data-testid="reading-marks">
      {lettering?.inscriptions.filter((i) => selection.includes(i.id) && i.box.minX <= i.box.maxX).map((i) => {
        const [x, y, rx, ry, ux, uy] = i.reading as unknown as [number, number, number, number, number, number];
        const at = (a: number, b: number) => `${view.toX(x) + 14 * (a * rx + b * ux)} ${view.toY(y) - 14 * (a * ry + b * uy)}`;
        return <path key={i.id} d={`M${at(-0.5, 0.9)}L${at(-0.5, 0)}L${at(0.9, 0)}M${at(0.5, 0.25)}L${at(0.9, 0)}L${at(0.5, -0.25)}`} />;
      })}
    </g>
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
  bench.edit('nudge', changeEach(selection, (i) => ({
    at: { xMm: round(i.at.xMm + move[0]!, 1e6), turnDeg: round(i.at.turnDeg + toTurnDeg(surface, move[1]!), 1e6) },
  })));
}

const round = (v: number, per: number): number => Math.round(v * per) / per;

const Letters = memo(function Letters({ lettering, selection, period, minY, maxY, mmPerRad, pale }: { lettering: LetteringView | null; selection: readonly string[]; period: number | null; minY: number; maxY: number; mmPerRad: number; pale: boolean }) {
  const bench = useBench();
  const inscriptions = useJobPart((j) => j.inscriptions);
  useEffect(() => markDrawn('unrolled'), [lettering]);
  useEffect(() => markDrawn('moved'), [inscriptions]);
  return lettering?.inscriptions.map((i) => {
    // A drag is shown at once by moving what is there; the lettering set anew follows.
    const move = findMove(i, inscriptions.find((own) => own.id === i.id));
    const along = move.dxMm, round = (move.dTurnDeg * Math.PI * mmPerRad) / 180;
    // Lettering over the seam shows again where the sheet goes on.
    const images = period === null ? [0] : [0, i.box.maxY > maxY ? -period : 0, i.box.minY < minY ? period : 0].filter((v, k) => k === 0 || v !== 0);
    const colour = selection.includes(i.id) ? '#6f4f0d' : 'var(--ink)';
    const grab = {
      'data-inscription': i.id, 'data-grab': 'select',
      onPointerDown: (e: React.PointerEvent) => {
        if (e.ctrlKey || e.metaKey || e.shiftKey) toggleSelected(bench, i.id);
        else selectOnly(bench, [i.id]);
        bench.view.setState({ station: 'lettering' });
      },
    };
    return images.map((dy) => (
      <g key={`${i.id}${dy}`} transform={dy || along || round ? `translate(${along},${dy + round})` : undefined} opacity={dy ? 0.4 : 1}>
        {i.areaData && <path d={i.areaData} fill={colour} fillOpacity={pale ? 0.3 : 0.85} {...grab} />}
        {i.strokeData && <path d={i.strokeData} fill="none" stroke={colour} strokeOpacity={pale ? 0.35 : 1} strokeWidth={1.6} vectorEffect="non-scaling-stroke" {...grab} />}
      </g>
    ));
  });
});

const Passes = memo(function Passes({ plan }: { plan: PlanView }) {
  const paths = useMemo(() => toPassPaths(plan), [plan]);
  return (
    <g pointerEvents="none" fill="none" strokeWidth={1} data-testid="passes">
      {paths.map(({ band, data }) => <path key={band} d={data} stroke={colourOfDepth(band / (DEPTH_BANDS - 1))} vectorEffect="non-scaling-stroke" />)}
    </g>
  );
});

function DepthKey({ plan }: { plan: PlanView }) {
  const units = useJobPart((j) => j.units);
  const deepest = Math.max(0, ...plan.cuts.map((c) => c.maxDepthMm));
  const stops = Array.from({ length: 8 }, (_, k) => colourOfDepth(k / 7));
  return (
    <div className="key">
      0<span style={{ background: `linear-gradient(to right, ${stops.join(',')})` }} />{formatLength(deepest, units)} {units} deep
    </div>
  );
}

const toRingPath = (rings: Rings): string => {
  let out = '';
  for (let k = 0; k + 1 < rings.starts.length; k++) {
    const ring = getRing(rings, k);
    for (let i = 0; i < ring.length; i += 2) out += `${i ? 'L' : 'M'}${Math.round(ring[i]! * 1e3) / 1e3} ${Math.round(ring[i + 1]! * 1e3) / 1e3}`;
    out += 'Z';
  }
  return out;
};

/** Ends that stay clear, hatched. */
function ClearZones({ surface }: { surface: Surface }) {
  const blank = useJobPart((j) => j.blank);
  if (!isRoundBlank(blank)) return null;
  const { minX, maxX, minY, maxY } = surface.domain;
  return [[minX, Math.min(maxX, minX + blank.clearDatumMm)], [Math.max(minX, maxX - blank.clearFarMm), maxX]].map(([a, b], k) => (
    b! > a! && <rect key={k} x={a} y={minY} width={b! - a!} height={maxY - minY} fill="var(--oxide)" opacity={0.16} pointerEvents="none"><title>stays clear</title></rect>
  ));
}

function ToolMark({ plan, view }: { plan: PlanView | null; view: SheetView }) {
  const place = useToolPlace(plan);
  if (!place) return null;
  return (
    <g pointerEvents="none" transform={`translate(${view.toX(place.x)},${view.toY(place.y)})`} data-testid="tool-mark">
      <circle r={6} fill="none" stroke="var(--verdigris)" strokeWidth={2} />
      <circle r={1.5} fill="var(--verdigris)" />
    </g>
  );
}

function Grid({ view, surface, point, onSeam }: { view: SheetView; surface: Surface; point(event: React.PointerEvent): { x: number; y: number }; onSeam(): void }) {
  const { domain, mmPerRad, periodMm } = surface;
  const lines: React.ReactNode[] = [];
  if (surface.round) for (let deg = -720; deg <= 720; deg += 30) {
    const y = (deg * Math.PI * mmPerRad) / 180;
    if (y < domain.minY - 1e-6 || y > domain.maxY + 1e-6) continue;
    lines.push(<line key={deg} x1={view.toX(domain.minX)} x2={view.toX(domain.maxX)} y1={view.toY(y)} y2={view.toY(y)} stroke="#fff" strokeOpacity={deg === 0 ? 0.95 : 0.4} strokeWidth={deg === 0 ? 1.2 : 1} />);
  }
  return (
    <g>
      <g pointerEvents="none">{lines}</g>
      {periodMm !== null && [domain.minY, domain.maxY].map((y, k) => (
        <g key={k}>
          <SeamGrip view={view} surface={surface} y={y} point={point} onEnd={onSeam} />
          <line pointerEvents="none" x1={view.toX(domain.minX)} x2={view.toX(domain.maxX)} y1={view.toY(y)} y2={view.toY(y)} stroke="var(--ink)" strokeWidth={1.6} strokeDasharray="9 4 2 4" />
          <text pointerEvents="none" x={view.toX(domain.maxX) - 4} y={view.toY(y) + (y === domain.maxY ? 12 : -5)} textAnchor="end">seam</text>
        </g>
      ))}
    </g>
  );
}

/** The seam taken by the hand: it jumps to whole degrees, free with Shift. */
function SeamGrip({ view, surface, y, point, onEnd }: { view: SheetView; surface: Surface; y: number; point(event: React.PointerEvent): { x: number; y: number }; onEnd(): void }) {
  const bench = useBench();
  const from = useRef<{ y: number; deg: number; name: string } | null>(null);
  const { minX, maxX } = surface.domain;
  const end = () => {
    if (!from.current) return;
    const { name } = from.current;
    from.current = null;
    bench.edit(name, (j) => (isRoundBlank(j.blank) ? { ...j, blank: { ...j.blank, seamDeg: ((((j.blank.seamDeg + 180) % 360) + 360) % 360) - 180 || 180 } } : j));
    // Once the page has the new sheet.
    setTimeout(onEnd);
  };
  return (
    <line x1={view.toX(minX)} x2={view.toX(maxX)} y1={view.toY(y)} y2={view.toY(y)} stroke="transparent" strokeWidth={11} style={{ cursor: 'ns-resize' }} data-grab="seam" data-testid={y === surface.domain.maxY ? 'seam' : undefined}
      onPointerDown={(e) => {
        const { blank } = bench.document.getState().job;
        if (e.button !== 0 || !isRoundBlank(blank)) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        from.current = { y: point(e).y, deg: blank.seamDeg, name: `seam#${e.timeStamp}` };
      }}
      onPointerMove={(e) => {
        const f = from.current;
        if (!f) return;
        const loose = f.deg + toTurnDeg(surface, point(e).y - f.y);
        const deg = e.shiftKey ? Math.round(loose * 100) / 100 : Math.round(loose);
        bench.edit(f.name, (j) => (isRoundBlank(j.blank) ? { ...j, blank: { ...j.blank, seamDeg: Math.max(-360, Math.min(360, deg)) } } : j));
      }}
      onPointerUp={end} onPointerCancel={end}
    ><title>Drag to move the seam</title></line>
  );
}

interface RulerProps {
  view: SheetView;
  size: { width: number; height: number };
  /** Degrees a millimetre round; null where nothing turns. */
  degPerMm: number | null;
  unitMm: number;
  units: string;
  cursor: { x: number; y: number } | null;
}

function Rulers({ view, size, degPerMm, unitMm, units, cursor }: RulerProps) {
  if (size.width < 100) return null;
  const alongRange: [number, number] = [view.fromX(LEFT) / unitMm, view.fromX(size.width) / unitMm];
  const roundRange: [number, number] = [view.fromY(size.height) / unitMm, view.fromY(TOP) / unitMm];
  const along = scaleLinear().domain(alongRange).ticks(Math.max(2, (size.width - LEFT) / 60));
  const around = scaleLinear().domain(roundRange).ticks(Math.max(2, (size.height - TOP) / 46));
  const perMm = degPerMm ?? 1;
  const degRange = roundRange.map((v) => v * unitMm * perMm);
  const step = [1, 2, 5, 10, 15, 30, 45, 90, 180].find((s) => ((degRange[1]! - degRange[0]!) / s) * 40 <= size.height) ?? 0;
  const degrees: number[] = degPerMm === null ? [] : step
    ? Array.from({ length: Math.floor(degRange[1]! / step) - Math.ceil(degRange[0]! / step) + 1 }, (_, k) => (Math.ceil(degRange[0]! / step) + k) * step)
    : scaleLinear().domain(degRange).ticks(6);
  const show = (v: number) => String(Math.round(v * 1e4) / 1e4);
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
          <text y={TOP - 8} textAnchor="middle">{show(v)}</text>
        </g>
      ))}
      {around.map((v) => (
        <g key={v} transform={`translate(0,${view.toY(v * unitMm)})`}>
          <line x1={LEFT / 2 - 3} x2={LEFT / 2 + 2} stroke="var(--soft)" />
          <text x={LEFT / 2 - 5} y={3} textAnchor="end">{show(v)}</text>
        </g>
      ))}
      {degrees.map((v) => (
        <g key={v} transform={`translate(0,${view.toY(v / perMm)})`}>
          <line x1={LEFT - 5} x2={LEFT} stroke="var(--soft)" />
          <text x={LEFT - 7} y={3} textAnchor="end">{show(v)}°</text>
        </g>
      ))}
      <rect x={0} y={0} width={LEFT} height={TOP} fill="var(--leaf)" />
      <text x={LEFT / 2 - 5} y={TOP - 8} textAnchor="end">{units}</text>
      <text x={LEFT - 7} y={TOP - 8} textAnchor="end">{degPerMm === null ? '' : 'turn'}</text>
      {cursor && (
        <g fill="var(--brass)">
          <path d={`M${view.toX(cursor.x)},${TOP} l-4,-7 h8 z`} />
          <path d={`M${LEFT},${view.toY(cursor.y)} l-7,-4 v8 z`} />
        </g>
      )}
    </g>
  );
}
