'use client';

import { lineToPathData } from '../../core/base/svgPath';
import { useEffect, useMemo, useState } from 'react';
import { createCurve, flattenCurve } from '../../core/guide/curve';
import type { Guide, GuideNode } from '../../core/job/schema';
import type { Surface } from '../../core/surface/surface';
import { freeId, useBench, useJobPart, useView } from '../state/benchStore';
import type { SheetView } from './sheetView';

interface Props {
  view: SheetView;
  surface: Surface;
  point(event: React.PointerEvent): { x: number; y: number };
}

type Point = { xMm: number; yMm: number };
const DRAW_TOLERANCE_MM = 0.02;
/** A click this near the first point closes a curve; a drag shorter than this makes a corner, px. */
const NEAR_PX = 8;
const round = (v: number): number => Math.round(v * 1000) / 1000;
const toPoint = (p: { x: number; y: number }): Point => ({ xMm: round(p.x), yMm: round(p.y) });
const ZERO: Point = { xMm: 0, yMm: 0 };

/** Guides on the sheet: drawn thin and dashed, since they are never cut. The chosen one shows its points, to be dragged. */
export function GuideLayer({ view, surface, point }: Props) {
  const bench = useBench();
  const guides = useJobPart((j) => j.guides);
  const chosen = useView((v) => v.guide);
  const lines = useMemo(
    () =>
      guides.map((g) => {
        const curve = createCurve(g, surface);
        return { id: g.id, xy: curve ? flattenCurve(curve, DRAW_TOLERANCE_MM) : [] };
      }),
    [guides, surface],
  );
  const toPath = (xy: readonly number[]): string =>
    lineToPathData(
      xy.map((v, i) => (i % 2 ? view.toY(v) : view.toX(v))),
      { closed: false, decimals: 2 },
    );
  const guide = guides.find((g) => g.id === chosen);
  return (
    <g data-testid="guides">
      {lines.map(({ id, xy }) => (
        <g key={id}>
          <path
            d={toPath(xy)}
            fill="none"
            stroke={id === chosen ? 'var(--brass)' : 'var(--verdigris)'}
            strokeWidth={id === chosen ? 1.6 : 1}
            strokeDasharray="6 3 1.5 3"
            pointerEvents="none"
          />
          <path
            d={toPath(xy)}
            fill="none"
            stroke="transparent"
            strokeWidth={9}
            data-grab="guide"
            style={{ cursor: 'pointer' }}
            onPointerDown={() => bench.view.setState({ guide: id, station: 'lettering' })}
          />
        </g>
      ))}
      {guide && <GuidePoints guide={guide} view={view} point={point} />}
    </g>
  );
}

/** The points of a guide that can be dragged, with what dragging each does. */
function listPoints(guide: Guide): { at: Point; move(to: Point): Guide; small?: boolean }[] {
  switch (guide.kind) {
    case 'line':
      return [
        { at: guide.from, move: (to) => ({ ...guide, from: to }) },
        { at: guide.to, move: (to) => ({ ...guide, to }) },
      ];
    case 'arc': {
      const a = (guide.startDeg * Math.PI) / 180;
      return [
        { at: guide.centre, move: (to) => ({ ...guide, centre: to }) },
        {
          at: { xMm: guide.centre.xMm + guide.radiusMm * Math.cos(a), yMm: guide.centre.yMm + guide.radiusMm * Math.sin(a) },
          move: (to) => ({
            ...guide,
            radiusMm: Math.max(0.01, round(Math.hypot(to.xMm - guide.centre.xMm, to.yMm - guide.centre.yMm))),
            startDeg: round((Math.atan2(to.yMm - guide.centre.yMm, to.xMm - guide.centre.xMm) * 180) / Math.PI),
          }),
        },
      ];
    }
    case 'around':
      return [{ at: { xMm: guide.xMm, yMm: 0 }, move: (to) => ({ ...guide, xMm: to.xMm }) }];
    case 'path':
      return guide.nodes.slice(0, 400).flatMap((n, k) => {
        const put = (node: Partial<GuideNode>): Guide => ({
          ...guide,
          nodes: guide.nodes.map((m, i) => (i === k ? { ...m, ...node } : m)),
        });
        const handle = (key: 'inMm' | 'outMm') => ({
          at: { xMm: n.xMm + n[key].xMm, yMm: n.yMm + n[key].yMm },
          move: (to: Point) => put({ [key]: { xMm: round(to.xMm - n.xMm), yMm: round(to.yMm - n.yMm) } }),
          small: true,
        });
        const smooth = n.inMm.xMm !== 0 || n.inMm.yMm !== 0 || n.outMm.xMm !== 0 || n.outMm.yMm !== 0;
        return [{ at: n, move: (to: Point) => put(to) }, ...(smooth ? [handle('inMm'), handle('outMm')] : [])];
      });
  }
}

function GuidePoints({ guide, view, point }: { guide: Guide } & Omit<Props, 'surface'>) {
  const bench = useBench();
  const [grabbed, setGrabbed] = useState<{ index: number; name: string } | null>(null);
  const points = listPoints(guide);
  const move = (event: React.PointerEvent) => {
    if (!grabbed) return;
    const next = listPoints(guide)[grabbed.index]?.move(toPoint(point(event)));
    if (next) bench.edit(grabbed.name, (j) => ({ ...j, guides: j.guides.map((g) => (g.id === guide.id ? next : g)) }));
  };
  return points.map(({ at, small }, index) => (
    <circle
      key={index}
      cx={view.toX(at.xMm)}
      cy={view.toY(at.yMm)}
      r={small ? 3.5 : 5}
      fill={small ? 'var(--brass)' : 'var(--leaf)'}
      stroke="var(--brass)"
      strokeWidth={2}
      data-grab="guide-point"
      style={{ cursor: 'grab' }}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        setGrabbed({ index, name: `guide#${e.timeStamp}` });
      }}
      onPointerMove={move}
      onPointerUp={() => setGrabbed(null)}
      onPointerCancel={() => setGrabbed(null)}
    />
  ));
}

/** What lies over everything while a guide is drawn. */
export function DrawingGlass({ view, point }: Omit<Props, 'surface'>) {
  const drawing = useView((v) => v.drawing);
  return drawing && <Drawing key={drawing} kind={drawing} view={view} point={point} />;
}

/** A sheet of glass over the view: clicks make points, drags make smooth ones. */
function Drawing({ kind, view, point }: { kind: 'line' | 'arc' | 'path' } & Omit<Props, 'surface'>) {
  const bench = useBench();
  const guides = useJobPart((j) => j.guides);
  const [nodes, setNodes] = useState<GuideNode[]>([]);
  const [here, setHere] = useState<Point | null>(null);
  const [pulling, setPulling] = useState(false);
  const stop = () => bench.view.setState({ drawing: null });
  const finish = (list: readonly GuideNode[], closed: boolean) => {
    const id = freeId(guides, 'guide');
    const [a, b] = [list[0], list[list.length - 1]];
    if (list.length < 2 || !a || !b) return stop();
    const made: Guide =
      kind === 'line'
        ? { kind, id, name: 'Line', from: { xMm: a.xMm, yMm: a.yMm }, to: { xMm: b.xMm, yMm: b.yMm } }
        : kind === 'arc'
          ? {
              kind,
              id,
              name: 'Circle',
              centre: { xMm: a.xMm, yMm: a.yMm },
              radiusMm: Math.max(0.01, round(Math.hypot(b.xMm - a.xMm, b.yMm - a.yMm))),
              // Clockwise from the far side, so that words in its middle stand on top, outside.
              startDeg: round((Math.atan2(b.yMm - a.yMm, b.xMm - a.xMm) * 180) / Math.PI + 180),
              sweepDeg: -360,
            }
          : { kind, id, name: 'Curve', closed, nodes: [...list] };
    bench.edit(`add#${id}`, (j) => ({ ...j, guides: [...j.guides, made] }));
    bench.view.setState({ drawing: null, guide: id });
  };
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (e.key === 'Escape') bench.view.setState({ drawing: null });
      if (e.key === 'Enter') {
        e.preventDefault();
        finish(nodes, false);
      }
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });
  const down = (e: React.PointerEvent) => {
    e.currentTarget.setPointerCapture(e.pointerId);
    const p = toPoint(point(e));
    const first = nodes[0];
    if (kind === 'path' && first && nodes.length > 2 && Math.hypot(p.xMm - first.xMm, p.yMm - first.yMm) * view.k < NEAR_PX)
      return finish(nodes, true);
    const next = [...nodes, { ...p, inMm: ZERO, outMm: ZERO }];
    if (kind !== 'path' && next.length === 2) return finish(next, false);
    setNodes(next);
    setPulling(true);
  };
  const move = (e: React.PointerEvent) => {
    const p = toPoint(point(e));
    setHere(p);
    const last = nodes[nodes.length - 1];
    if (!pulling || kind !== 'path' || !last) return;
    const pull = { xMm: round(p.xMm - last.xMm), yMm: round(p.yMm - last.yMm) };
    const far = Math.hypot(pull.xMm, pull.yMm) * view.k > NEAR_PX;
    setNodes([...nodes.slice(0, -1), { ...last, outMm: far ? pull : ZERO, inMm: far ? { xMm: -pull.xMm, yMm: -pull.yMm } : ZERO }]);
  };
  const at = (p: Point) => `${view.toX(p.xMm)} ${view.toY(p.yMm)}`;
  const add = (a: Point, b: Point): Point => ({ xMm: a.xMm + b.xMm, yMm: a.yMm + b.yMm });
  let d = nodes
    .map((n, i) => (i === 0 ? `M${at(n)}` : `C${at(add(nodes[i - 1]!, nodes[i - 1]!.outMm))},${at(add(n, n.inMm))},${at(n)}`))
    .join('');
  const last = nodes[nodes.length - 1];
  if (last && here && !pulling && kind !== 'arc') d += `L${at(here)}`;
  return (
    <g data-testid="drawing">
      <rect
        width="100%"
        height="100%"
        fill="transparent"
        data-grab="draw"
        style={{ cursor: 'crosshair' }}
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={() => setPulling(false)}
      />
      <path d={d} fill="none" stroke="var(--brass)" strokeWidth={1.5} pointerEvents="none" />
      {kind === 'arc' && last && here && (
        <circle
          cx={view.toX(last.xMm)}
          cy={view.toY(last.yMm)}
          r={view.k * Math.hypot(here.xMm - last.xMm, here.yMm - last.yMm)}
          fill="none"
          stroke="var(--brass)"
          strokeWidth={1.5}
          pointerEvents="none"
        />
      )}
      {nodes.map((n, i) => (
        <circle
          key={i}
          cx={view.toX(n.xMm)}
          cy={view.toY(n.yMm)}
          r={4}
          fill="var(--leaf)"
          stroke="var(--brass)"
          strokeWidth={2}
          pointerEvents="none"
        />
      ))}
    </g>
  );
}
