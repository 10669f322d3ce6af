'use client';

import { memo, useMemo, useState } from 'react';
import { joinBoxes, type Box } from '../../core/base/rings';
import { toTurnDeg, type Surface } from '../../core/surface/surface';
import type { LetteringView, PlanView } from '../../workers/planning.client';
import { MM_PER_INCH } from '../common/format';
import { useBench, useJobPart, useView } from '../state/benchStore';
import { selectOnly } from '../state/selection';
import type { DepthProbe } from './depthProbe';
import { DrawingGlass, GuideLayer } from './GuideLayer';
import { Handles } from './Handles';
import type { InscriptionArtwork } from '../../core/lettering/artwork';
import type { RemovalState } from '../state/useRemoval';
import { MeasureCard } from './measure/MeasureCard';
import { MeasureGlass } from './measure/MeasureGlass';
import { MATERIALS } from './preview';
import { Rulers } from './Rulers';
import { SheetGrid } from './SheetGrid';
import { WayMarks } from './unrolled/WayMarks';
import { ClearZones, Letters, Passes, ReadingMarks, ToolMark, toRingPath, ZeroMark } from './SheetLayers';
import { collectSnapLines, type SnapLines } from './snapping';
import { StretchKey, StretchSquares } from './Stretch';
import { CursorLayer, Readout } from './unrolled/CursorLayer';
import { nudge } from './unrolled/nudge';
import { findInMarquee, type Marquee } from './unrolled/sheetGeometry';
import { ReliefLayer } from './unrolled/ReliefLayer';
import { DepthKey, DifferenceKey, GridChoice } from './unrolled/SheetKeys';
import { useSheetView, type SheetViewport } from './unrolled/useSheetView';

interface Props {
  lettering: LetteringView | null;
  plan: PlanView | null;
  surface: Surface;
  probe: DepthProbe | null;
  ask: RemovalState['ask'];
}

const NO_ARTWORKS: readonly InscriptionArtwork[] = [];

/** The blank's surface laid flat, with rulers in mm along, mm and degrees round. Lettering is moved and sized here. */
export const UnrolledView = memo(function UnrolledView({ lettering, plan, surface, probe, ask }: Props) {
  const bench = useBench();
  const showStretch = useView((v) => v.showStretch);
  const [marquee, setMarquee] = useState<Marquee | null>(null);
  const [showPasses, setShowPasses] = useState(false);
  const turned = useView((v) => v.sheetTurned);
  const comparing = useView((v) => v.comparing);
  const measuring = useView((v) => v.measuring);
  const hasPiece = useView((v) => v.piece !== null && v.piece.plan === plan);
  const hasFaults = useView((v) => v.engraved && v.piece?.plan === plan && (v.piece?.verdict?.map.offMm.length ?? 0) > 0);
  const showDifference = hasPiece && (comparing || hasFaults);
  const selection = useView((v) => v.selection);
  const viewport = useSheetView(surface, turned);
  const { host, svg, view, size, point, pixel, fit, fitTo, placing } = viewport;
  const chosen = (lettering?.inscriptions ?? []).filter((i) => selection.includes(i.id) && i.box.minX <= i.box.maxX);
  const cutPlan = showPasses ? plan : null;
  // A marquee over nothing selects nothing.
  const endMarquee = (m: Marquee) => {
    setMarquee(null);
    selectOnly(bench, findInMarquee(m, view, lettering?.inscriptions ?? []));
  };
  return (
    <div className={`view unrolled${turned ? ' turned-view' : ''}`} ref={host} data-testid="unrolled">
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
        onKeyDown={(e) => nudge(e, bench, surface, turned)}
      >
        <g transform={placing} className={turned ? 'turned' : undefined}>
          <SheetContents lettering={lettering} plan={cutPlan} shown={plan} surface={surface} viewport={viewport} />
          {marquee && <MarqueeFrame marquee={marquee} />}
          <ToolMark plan={plan} view={view} />
          <DrawingGlass view={view} point={point} />
          <MeasureGlass view={view} size={size} point={point} />
          <SheetRulers surface={surface} viewport={viewport} />
          <CursorLayer lettering={lettering} surface={surface} view={view} size={size} />
        </g>
      </svg>
      <div className="corner">
        <GridChoice />
        {plan && (
          <button type="button" aria-pressed={showPasses} onClick={() => setShowPasses(!showPasses)}>
            Passes
          </button>
        )}
        <button
          type="button"
          aria-pressed={measuring}
          disabled={!hasPiece}
          title="Click on the cut piece to ask how deep it is; drag a line to cut through it"
          onClick={() => bench.view.setState({ measuring: !measuring, measured: null })}
        >
          Measure
        </button>
        <button
          type="button"
          aria-pressed={turned}
          title="Turns the sheet by a quarter, so that what runs round the blank reads straight"
          onClick={() => bench.view.setState({ sheetTurned: !turned })}
        >
          Turned
        </button>
        <button
          type="button"
          disabled={chosen.length === 0}
          title="Shows what is selected as large as it goes"
          onClick={() => fitTo(withMargin(chosen.map((i) => i.box).reduce(joinBoxes)))}
        >
          Selected
        </button>
        <button type="button" onClick={fit}>
          Whole sheet
        </button>
      </div>
      {showDifference && <DifferenceKey />}
      {cutPlan && cutPlan.laid.count > 0 && !showStretch && !showDifference && <DepthKey plan={cutPlan} />}
      {showStretch && <StretchKey />}
      <Readout lettering={lettering} surface={surface} probe={probe} />
      {plan && hasPiece && <MeasureCard surface={surface} artworks={lettering?.artworks ?? NO_ARTWORKS} ask={ask} />}
    </div>
  );
});

/** A box with a little room round it. */
function withMargin({ minX, maxX, minY, maxY }: Box): Box {
  const room = 0.08 * Math.max(maxX - minX, maxY - minY, 1);
  return { minX: minX - room, maxX: maxX + room, minY: minY - room, maxY: maxY + room };
}

type PartProps = Pick<Props, 'lettering' | 'plan' | 'surface'> & { viewport: SheetViewport };

/** The sheet with everything that lies on it; drawn anew when one of these changes, not when the cursor moves. */
const SheetContents = memo(function SheetContents({ lettering, plan, shown, surface, viewport }: PartProps & { shown: PlanView | null }) {
  const material = useJobPart((j) => j.material);
  const selection = useView((v) => v.selection);
  const showStretch = useView((v) => v.showStretch);
  const engraved = useView((v) => v.engraved && v.piece !== null && v.piece.plan === shown);
  const snapLines = useSnapLines(surface, lettering);
  const { view, size, transform: t, point, fit } = viewport;
  const { domain, outline } = surface;
  const { minX, maxX, minY, maxY } = domain;
  const { sheet } = MATERIALS[material];
  const place = `translate(${t.x},${t.y}) scale(${t.k},${-t.k})`;
  return (
    <>
      <rect width={size.width} height={size.height} fill="var(--paper)" />
      <g transform={place}>
        {outline ? (
          <path d={toRingPath(outline)} fill={sheet} />
        ) : (
          <rect x={minX} y={minY} width={maxX - minX} height={maxY - minY} fill={sheet} />
        )}
        <ClearZones surface={surface} />
        {showStretch && <StretchSquares surface={surface} lettering={lettering} />}
      </g>
      <ReliefLayer plan={shown} lettering={lettering} viewport={viewport} />
      <SheetGrid view={view} surface={surface} point={point} onSeam={fit} />
      <g transform={place}>
        <Letters
          lettering={lettering}
          selection={selection}
          period={surface.periodMm}
          minY={minY}
          maxY={maxY}
          mmPerRad={surface.mmPerRad}
          pale={plan !== null && plan.laid.count > 0}
          engraved={engraved}
        />
        {plan && <Passes plan={plan} />}
      </g>
      <ReadingMarks lettering={lettering} view={view} />
      <ZeroMark surface={surface} view={view} />
      <GuideLayer view={view} surface={surface} point={point} />
      <Handles lettering={lettering} view={view} surface={surface} point={point} snapLines={snapLines} />
      <WayMarks plan={shown} view={view} surface={surface} point={point} />
    </>
  );
});

/** Places that a drag snaps to: everything but what is dragged. */
function useSnapLines(surface: Surface, lettering: LetteringView | null): SnapLines {
  const guides = useJobPart((j) => j.guides);
  const selection = useView((v) => v.selection);
  const gridMm = useView((v) => v.gridMm);
  const gridDeg = useView((v) => v.gridDeg);
  return useMemo(() => {
    const others = (lettering?.inscriptions ?? []).filter((i) => !selection.includes(i.id) && i.box.minX <= i.box.maxX);
    return collectSnapLines(
      surface,
      guides,
      others.map((i) => i.box),
      gridMm,
      gridDeg,
    );
  }, [surface, guides, lettering, selection, gridMm, gridDeg]);
}

const SheetRulers = memo(function SheetRulers({ surface, viewport }: { surface: Surface; viewport: SheetViewport }) {
  const units = useJobPart((j) => j.units);
  const unitMm = units === 'mm' ? 1 : MM_PER_INCH;
  const degPerMm = surface.round ? toTurnDeg(surface, 1) : null;
  return <Rulers view={viewport.view} size={viewport.size} degPerMm={degPerMm} unitMm={unitMm} units={units} />;
});

function MarqueeFrame({ marquee: { from, to } }: { marquee: Marquee }) {
  return (
    <rect
      x={Math.min(from.px, to.px)}
      y={Math.min(from.py, to.py)}
      width={Math.abs(from.px - to.px)}
      height={Math.abs(from.py - to.py)}
      fill="rgba(31,111,99,0.08)"
      stroke="var(--verdigris)"
      strokeDasharray="4 3"
      pointerEvents="none"
    />
  );
}
