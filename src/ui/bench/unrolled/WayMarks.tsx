import { useState } from 'react';
import { findNearestOnWays, getPlaceOnWay, isClosedWay, type SheetPlace } from '../../../core/cut/area/placesOnWays';
import type { Cut, SheetPlaces } from '../../../core/job/schema';
import { getStages } from '../../../core/job/schema';
import { toTurnDeg, type Surface } from '../../../core/surface/surface';
import type { PlanView } from '../../../workers/planning.client';
import { patchCut, useBench, useJob, useView } from '../../state/benchStore';
import { cutColour } from '../cutColours';
import { toRingPath } from '../SheetLayers';
import type { SheetView } from '../sheetView';

interface Props {
  plan: PlanView | null;
  view: SheetView;
  surface: Surface;
  point(event: React.PointerEvent): SheetPlace;
}

type Ways = PlanView['cuts'][number]['ways'];
/** A tab of a way, or its beginning. */
type Grip = { way: number; tab: number | null };

/** Half of the side of a grip, px. */
const GRIP_PX = 5;

/** At the station of the cuts: what no cutter reaches, and grips on tabs and on the beginnings of closed ways. */
export function WayMarks({ plan, view, surface, point }: Props) {
  const here = useView((v) => v.station === 'cuts');
  const { cuts } = useJob();
  if (!here || !plan) return null;
  let running = 0;
  return (
    <>
      <Unreached plan={plan} view={view} />
      {cuts.map((cut) => {
        const colour = cutColour(cut.enabled ? running++ : 0);
        const own = plan.cuts.find((s) => s.id === cut.id && s.stage === getStages(cut).length);
        if (!cut.enabled || !own || own.ways.length === 0 || !('startsAt' in cut)) return null;
        return <Grips key={cut.id} cut={cut} ways={own.ways} colour={colour} view={view} surface={surface} point={point} />;
      })}
    </>
  );
}

/** Area that the last cutter of a cut leaves, in its place. */
function Unreached({ plan, view }: { plan: PlanView; view: SheetView }) {
  const { cuts } = useJob();
  const left = plan.cuts.filter((s) => {
    const cut = cuts.find((c) => c.id === s.id);
    return cut && s.stage === getStages(cut).length && (s.unreachedMm2 ?? 0) > 0;
  });
  if (left.length === 0) return null;
  const k = view.toX(1) - view.toX(0);
  return (
    <g transform={`translate(${view.toX(0)},${view.toY(0)}) scale(${k},${-k})`} pointerEvents="none" data-testid="unreached">
      <defs>
        <pattern id="unreached-hatch" width={4 / k} height={4 / k} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width={4 / k} height={4 / k} fill="rgba(179, 38, 30, 0.28)" />
          <line x1={0} y1={0} x2={0} y2={4 / k} stroke="var(--oxide)" strokeWidth={1.6 / k} />
        </pattern>
      </defs>
      {left.map((s) => (
        <path
          key={s.id}
          d={toRingPath(s.unreached!)}
          fill="url(#unreached-hatch)"
          stroke="var(--oxide)"
          strokeWidth={0.8 / k}
          fillRule="evenodd"
        />
      ))}
    </g>
  );
}

interface GripsProps extends Omit<Props, 'plan'> {
  cut: Cut & { startsAt: SheetPlaces };
  ways: Ways;
  colour: string;
}

function Grips({ cut, ways, colour, view, surface, point }: GripsProps) {
  const bench = useBench();
  const [drag, setDrag] = useState<{ grip: Grip; at: SheetPlace } | null>(null);
  const place = ({ x, y }: SheetPlace) => ({ xMm: x, turnDeg: toTurnDeg(surface, y) });
  const isDragged = (way: number, tab: number | null): boolean => drag?.grip.way === way && drag.grip.tab === tab;
  const shownAt = (way: number, tab: number | null): SheetPlace =>
    isDragged(way, tab) ? drag!.at : getPlaceOnWay(ways[way]!.points, tab === null ? 0 : ways[way]!.tabs[tab]!);
  const put = ({ way, tab }: Grip, at: SheetPlace): void => {
    if (tab === null) {
      // One beginning a way: what this way had before goes.
      const others = cut.startsAt.filter(
        (p) =>
          findNearestOnWays(
            ways.map((w) => w.points),
            p.xMm,
            (p.turnDeg * Math.PI * surface.mmPerRad) / 180,
          )?.way !== way,
      );
      bench.edit(`start#${cut.id}`, patchCut(cut.id, { startsAt: [...others, place(at)] } as Partial<Cut>));
    } else if ('tabs' in cut && cut.tabs) {
      // All that stand now, so that the others stay where they are.
      const all = ways.flatMap((w, k) => w.tabs.map((share, t) => (k === way && t === tab ? at : getPlaceOnWay(w.points, share))));
      bench.edit(`tab#${cut.id}`, patchCut(cut.id, { tabs: { ...cut.tabs, at: all.map(place) } } as Partial<Cut>));
    }
  };
  const grip = (way: number, tab: number | null) => ({
    'data-grab': 'way',
    style: { cursor: 'grab' },
    onPointerDown: (e: React.PointerEvent) => {
      if (e.button !== 0) return;
      e.stopPropagation();
      e.currentTarget.setPointerCapture(e.pointerId);
      setDrag({ grip: { way, tab }, at: shownAt(way, tab) });
    },
    onPointerMove: (e: React.PointerEvent) => {
      if (!isDragged(way, tab)) return;
      const { x, y } = point(e);
      const { points } = ways[way]!;
      const found = findNearestOnWays([points], x, y);
      if (found) setDrag({ grip: { way, tab }, at: getPlaceOnWay(points, found.share) });
    },
    onPointerUp: () => {
      if (drag && isDragged(way, tab)) put(drag.grip, drag.at);
      setDrag(null);
    },
    onPointerCancel: () => setDrag(null),
  });
  return (
    <g data-testid={`ways-${cut.id}`} stroke={colour} strokeWidth={1.5}>
      {ways.map(({ points, tabs }, way) => (
        // A way has no name of its own: it is the n-th of its cut.
        <g key={way}>
          {tabs.map((_, tab) => {
            const { x, y } = shownAt(way, tab);
            return (
              <rect
                key={tab}
                x={view.toX(x) - GRIP_PX}
                y={view.toY(y) - GRIP_PX}
                width={2 * GRIP_PX}
                height={2 * GRIP_PX}
                fill="var(--paper)"
                {...grip(way, tab)}
              >
                <title>A tab: drag it along the way</title>
              </rect>
            );
          })}
          {isClosedWay(points) && <Start {...shownAt(way, null)} view={view} grip={grip(way, null)} />}
        </g>
      ))}
    </g>
  );
}

/** Where a way begins, as a small triangle. */
function Start({ x, y, view, grip }: SheetPlace & { view: SheetView; grip: object }) {
  const [px, py] = [view.toX(x), view.toY(y)];
  return (
    <path d={`M${px} ${py + GRIP_PX}l${-GRIP_PX} ${-2 * GRIP_PX}h${2 * GRIP_PX}z`} fill="var(--leaf)" {...grip}>
      <title>Where the way begins: drag it along the way</title>
    </path>
  );
}
