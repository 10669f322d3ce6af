'use client';

import { wrapDeg } from '../../core/base/angle';
import { useState } from 'react';
import type { Box } from '../../core/base/rings';
import type { Inscription } from '../../core/job/schema';
import type { Surface } from '../../core/surface/surface';
import type { LetteringView } from '../../workers/planning.client';
import { patchInscription, useBench, useJob, useView } from '../state/benchStore';
import { findMove } from './moved';
import { snapBox, type SnapLines } from './snapping';
import type { SheetView } from './sheetView';

interface Props {
  lettering: LetteringView | null;
  view: SheetView;
  surface: Surface;
  snapLines: SnapLines;
  point(event: React.PointerEvent): { x: number; y: number };
}

/** Within this many px a dragged place jumps to what it is near. */
const SNAP_PX = 7;
const ROUND_MM = 1000;
const TURN_STEP_DEG = 15;

interface Gesture {
  kind: 'move' | 'turn' | 'size';
  start: { x: number; y: number };
  /** The inscriptions as they were, and their common ink box. */
  from: readonly Inscription[];
  box: Box;
  name: string;
}

const round = (v: number, per: number): number => Math.round(v * per) / per;
/** What sizing changes: the letters' height, or the artwork's scale. */
const sized = (i: Inscription, factor: number, free: boolean): Partial<Inscription> => {
  if (i.kind === 'artwork') return { scaleRatio: Math.min(1000, Math.max(0.001, round(i.scaleRatio * factor, 1e4))) };
  return { heightMm: Math.min(500, Math.max(0.2, round(i.heightMm * factor, free ? 1000 : 20))) };
};

/** The frames of what is selected: drag one to move all, the corner to size, the knob to turn. Shift drags freely. */
export function Handles({ lettering, view, surface, snapLines, point }: Props) {
  const bench = useBench();
  const job = useJob();
  const selection = useView((v) => v.selection);
  const selected = useView((v) => v.selected);
  const [gesture, setGesture] = useState<Gesture | null>(null);
  const [snaps, setSnaps] = useState<{ x?: number; y?: number }>({});
  const chosen = job.inscriptions.filter((i) => selection.includes(i.id));
  const arts = new Map((lettering?.inscriptions ?? []).filter((a) => a.box.minX <= a.box.maxX).map((a) => [a.id, a]));
  const shown = chosen.filter((i) => arts.has(i.id));
  if (shown.length === 0) return null;
  const radPerMm = 1 / surface.mmPerRad;
  const yOf = (i: Inscription) => (i.at.turnDeg * Math.PI) / 180 / radPerMm;
  const free = shown.filter((i) => !i.locked && !(i.kind === 'text' && i.onGuide));
  const box = (list: readonly Inscription[]): Box =>
    list
      .map((i) => arts.get(i.id)!.box)
      .reduce((a, b) => ({
        minX: Math.min(a.minX, b.minX),
        minY: Math.min(a.minY, b.minY),
        maxX: Math.max(a.maxX, b.maxX),
        maxY: Math.max(a.maxY, b.maxY),
      }));

  const start = (kind: Gesture['kind']) => (event: React.PointerEvent) => {
    if (event.button !== 0 || free.length === 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    bench.view.setState({ dragging: true });
    setGesture({
      kind,
      start: point(event),
      from: kind === 'move' ? free : free.filter((i) => i.id === selected),
      box: box(free),
      name: `${kind}#${event.timeStamp}`,
    });
  };
  const move = (event: React.PointerEvent) => {
    const g = gesture;
    if (!g) return;
    const here = point(event);
    const loose = event.shiftKey;
    if (g.kind === 'move') {
      let dx = here.x - g.start.x,
        dy = here.y - g.start.y;
      const found = loose
        ? {}
        : snapBox(
            { minX: g.box.minX + dx, minY: g.box.minY + dy, maxX: g.box.maxX + dx, maxY: g.box.maxY + dy },
            snapLines,
            SNAP_PX / view.k,
          );
      dx += found.dx ?? 0;
      dy += found.dy ?? 0;
      setSnaps({ x: found.x, y: found.y });
      const from = new Map(g.from.map((i) => [i.id, i]));
      bench.edit(g.name, (j) => ({
        ...j,
        inscriptions: j.inscriptions.map((i) => {
          const was = from.get(i.id);
          if (!was) return i;
          // A snap is exact; a loose drag ends on a round number.
          const x = was.at.xMm + dx,
            turn = (yOf(was) + dy) * radPerMm * (180 / Math.PI);
          return {
            ...i,
            at: { xMm: found.x === undefined ? round(x, ROUND_MM) : x, turnDeg: found.y === undefined ? round(turn, 1e4) : turn },
          };
        }),
      }));
      return;
    }
    const i = g.from[0];
    if (!i) return;
    const anchor = { x: i.at.xMm, y: yOf(i) };
    if (g.kind === 'turn') {
      const angle = (p: { x: number; y: number }) => (Math.atan2(p.y - anchor.y, p.x - anchor.x) * 180) / Math.PI;
      let turned = i.rotationDeg + angle(here) - angle(g.start);
      turned = wrapDeg(turned);
      const snapped = Math.round(turned / TURN_STEP_DEG) * TURN_STEP_DEG;
      bench.edit(g.name, patchInscription(i.id, { rotationDeg: !loose && Math.abs(turned - snapped) < 3 ? snapped : round(turned, 10) }));
    } else {
      const reach = (p: { x: number; y: number }) => Math.hypot(p.x - anchor.x, p.y - anchor.y);
      bench.edit(g.name, patchInscription(i.id, sized(i, reach(here) / Math.max(0.01, reach(g.start)), loose)));
    }
  };
  const end = () => {
    bench.view.setState({ dragging: false });
    setGesture(null);
    setSnaps({});
  };
  const on = (kind: Gesture['kind']) => ({
    'data-grab': kind,
    onPointerDown: start(kind),
    onPointerMove: move,
    onPointerUp: end,
    onPointerCancel: end,
  });
  const shift = (i: Inscription) => {
    const { dxMm, dTurnDeg } = findMove(arts.get(i.id)!, i);
    return { dxMm, dyMm: (dTurnDeg * Math.PI) / 180 / radPerMm };
  };
  const main = shown.find((i) => i.id === selected);
  const turnable = main && free.includes(main) && main.kind !== 'series';
  return (
    <g>
      {snaps.x !== undefined && (
        <line
          x1={view.toX(snaps.x)}
          x2={view.toX(snaps.x)}
          y1={0}
          y2="100%"
          stroke="var(--verdigris)"
          strokeDasharray="4 3"
          pointerEvents="none"
        />
      )}
      {snaps.y !== undefined && (
        <line
          y1={view.toY(snaps.y)}
          y2={view.toY(snaps.y)}
          x1={0}
          x2="100%"
          stroke="var(--verdigris)"
          strokeDasharray="4 3"
          pointerEvents="none"
        />
      )}
      {shown.map((i) => {
        const f = arts.get(i.id)!.frame;
        const { dxMm, dyMm } = shift(i);
        const points = [0, 1, 2, 3].map((k) => `${view.toX(f[2 * k]! + dxMm)},${view.toY(f[2 * k + 1]! + dyMm)}`).join(' ');
        const movable = free.includes(i);
        return (
          <polygon
            key={i.id}
            points={points}
            fill="rgba(166,122,30,0.05)"
            stroke="var(--brass)"
            strokeWidth={i.id === selected ? 1.4 : 0.9}
            strokeDasharray={movable ? undefined : '5 3'}
            style={{ cursor: movable ? 'move' : 'default' }}
            {...on('move')}
            data-testid={i.id === selected ? 'frame' : undefined}
          />
        );
      })}
      {turnable && (
        <Knobs frame={arts.get(main.id)!.frame.map((v, k) => v + (k % 2 ? shift(main).dyMm : shift(main).dxMm))} view={view} on={on} />
      )}
    </g>
  );
}

function Knobs({ frame, view, on }: { frame: Float64Array; view: SheetView; on(kind: 'turn' | 'size'): React.SVGProps<SVGElement> }) {
  const at = (k: number) => [view.toX(frame[2 * k]!), view.toY(frame[2 * k + 1]!)] as const;
  const [p0, p1, p2, p3] = [at(0), at(1), at(2), at(3)];
  const topX = (p2[0] + p3[0]) / 2,
    topY = (p2[1] + p3[1]) / 2;
  const upX = p3[0] - p0[0],
    upY = p3[1] - p0[1];
  const up = Math.hypot(upX, upY) || 1;
  const knob = [topX + (upX / up) * 22, topY + (upY / up) * 22] as const;
  return (
    <>
      <line x1={topX} y1={topY} x2={knob[0]} y2={knob[1]} stroke="var(--brass)" pointerEvents="none" />
      <circle
        cx={knob[0]}
        cy={knob[1]}
        r={5.5}
        fill="var(--leaf)"
        stroke="var(--brass)"
        strokeWidth={2}
        style={{ cursor: 'grab' }}
        {...(on('turn') as React.SVGProps<SVGCircleElement>)}
        data-testid="turn-knob"
      >
        <title>Turn</title>
      </circle>
      <rect
        x={p1[0] - 5}
        y={p1[1] - 5}
        width={10}
        height={10}
        fill="var(--leaf)"
        stroke="var(--brass)"
        strokeWidth={2}
        transform={`rotate(45 ${p1[0]} ${p1[1]})`}
        style={{ cursor: 'nwse-resize' }}
        {...(on('size') as React.SVGProps<SVGRectElement>)}
        data-testid="size-knob"
      >
        <title>Size</title>
      </rect>
    </>
  );
}
