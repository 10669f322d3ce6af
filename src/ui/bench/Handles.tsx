'use client';

import { useState } from 'react';
import type { Surface } from '../../core/surface/surface';
import type { LetteringView } from '../../workers/planning.client';
import { patchInscription, useBench, useJob, useView } from '../state/benchStore';
import type { SheetView } from './UnrolledView';

interface Props {
  lettering: LetteringView | null;
  view: SheetView;
  surface: Surface;
  point(event: React.PointerEvent): { x: number; y: number };
}

/** Within this many px a dragged place jumps to what it is near. */
const SNAP_PX = 7;
const ROUND_MM = 1000;
const TURN_STEPS_DEG = 90;

interface Gesture {
  kind: 'move' | 'turn' | 'size';
  start: { x: number; y: number };
  at: { xMm: number; turnDeg: number };
  rotationDeg: number;
  heightMm: number;
  name: string;
}

/** The frame of the selected inscription: drag it to move, the corner to size, the knob to turn. Shift drags freely. */
export function Handles({ lettering, view, surface, point }: Props) {
  const bench = useBench();
  const job = useJob();
  const selected = useView((v) => v.selected);
  const [gesture, setGesture] = useState<Gesture | null>(null);
  const [snaps, setSnaps] = useState<{ x?: number; y?: number }>({});
  const art = lettering?.inscriptions.find((i) => i.id === selected);
  const inscription = job.inscriptions.find((i) => i.id === selected);
  if (!art || !inscription || art.frame.length < 8 || art.box.minX > art.box.maxX) return null;
  const corners = [0, 1, 2, 3].map((k) => [view.toX(art.frame[2 * k]!), view.toY(art.frame[2 * k + 1]!)] as const);
  const [p0, p1, p2, p3] = corners as [readonly [number, number], readonly [number, number], readonly [number, number], readonly [number, number]];
  const radPerMm = 1 / surface.mmPerRad;
  const anchor = { x: inscription.at.xMm, y: (inscription.at.turnDeg * Math.PI) / 180 / radPerMm };
  const topX = (p2[0] + p3[0]) / 2, topY = (p2[1] + p3[1]) / 2;
  const upX = p3[0] - p0[0], upY = p3[1] - p0[1];
  const up = Math.hypot(upX, upY) || 1;
  const knob = [topX + (upX / up) * 22, topY + (upY / up) * 22] as const;

  const start = (kind: Gesture['kind']) => (event: React.PointerEvent) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    setGesture({
      kind, start: point(event), at: inscription.at, rotationDeg: inscription.rotationDeg, heightMm: inscription.heightMm,
      name: `${kind}#${event.timeStamp}`,
    });
  };
  const move = (event: React.PointerEvent) => {
    const g = gesture;
    if (!g) return;
    const here = point(event);
    const free = event.shiftKey;
    if (g.kind === 'move') {
      const startY = (g.at.turnDeg * Math.PI) / 180 / radPerMm;
      let x = g.at.xMm + here.x - g.start.x;
      let y = startY + here.y - g.start.y;
      const found: { x?: number; y?: number } = {};
      if (!free) {
        const reach = SNAP_PX / view.k;
        const others = (lettering?.inscriptions ?? []).filter((i) => i.id !== art.id && i.box.minX <= i.box.maxX);
        const own = { x: (art.box.minX + art.box.maxX) / 2 - anchor.x, y: (art.box.minY + art.box.maxY) / 2 - anchor.y };
        const { domain } = surface;
        const xs = [(domain.minX + domain.maxX) / 2, ...others.map((i) => (i.box.minX + i.box.maxX) / 2)];
        const quarters = [-1, -0.5, 0, 0.5, 1].map((q) => q * Math.PI * surface.mmPerRad);
        const ys = [...quarters, ...others.map((i) => (i.box.minY + i.box.maxY) / 2)];
        const nearX = nearest(xs, x + own.x, reach);
        const nearY = nearest(ys, y + own.y, reach);
        if (nearX !== null) {
          x = nearX - own.x;
          found.x = nearX;
        }
        if (nearY !== null) {
          y = nearY - own.y;
          found.y = nearY;
        }
      }
      setSnaps(found);
      const turnDeg = y * radPerMm * (180 / Math.PI);
      bench.edit(g.name, patchInscription(art.id, { at: { xMm: Math.round(x * ROUND_MM) / ROUND_MM, turnDeg: Math.round(turnDeg * 1e4) / 1e4 } }));
    } else if (g.kind === 'turn') {
      const angle = (p: { x: number; y: number }) => (Math.atan2(p.y - anchor.y, p.x - anchor.x) * 180) / Math.PI;
      let turned = g.rotationDeg + angle(here) - angle(g.start);
      turned = ((((turned + 180) % 360) + 360) % 360) - 180;
      const square = TURN_STEPS_DEG / 6;
      const snapped = Math.round(turned / square) * square;
      const rotationDeg = !free && Math.abs(turned - snapped) < 3 ? snapped : Math.round(turned * 10) / 10;
      bench.edit(g.name, patchInscription(art.id, { rotationDeg }));
    } else {
      const reach = (p: { x: number; y: number }) => Math.hypot(p.x - anchor.x, p.y - anchor.y);
      const grown = g.heightMm * (reach(here) / Math.max(0.01, reach(g.start)));
      bench.edit(g.name, patchInscription(art.id, { heightMm: Math.max(0.2, Math.round(grown * (free ? 1000 : 20)) / (free ? 1000 : 20)) }));
    }
  };
  const end = () => {
    setGesture(null);
    setSnaps({});
  };
  const on = (kind: Gesture['kind']) => ({ 'data-grab': kind, onPointerDown: start(kind), onPointerMove: move, onPointerUp: end, onPointerCancel: end });
  return (
    <g>
      {snaps.x !== undefined && <line x1={view.toX(snaps.x)} x2={view.toX(snaps.x)} y1={0} y2="100%" stroke="var(--brass)" strokeDasharray="4 3" />}
      {snaps.y !== undefined && <line y1={view.toY(snaps.y)} y2={view.toY(snaps.y)} x1={0} x2="100%" stroke="var(--brass)" strokeDasharray="4 3" />}
      <polygon points={corners.map((c) => c.join(',')).join(' ')} fill="var(--brass)" fillOpacity={0.07} stroke="var(--brass)" strokeWidth={1.2} style={{ cursor: 'move' }} {...on('move')} data-testid="frame" />
      <line x1={topX} y1={topY} x2={knob[0]} y2={knob[1]} stroke="var(--brass)" />
      <circle cx={knob[0]} cy={knob[1]} r={5.5} fill="var(--leaf)" stroke="var(--brass)" strokeWidth={2} style={{ cursor: 'grab' }} {...on('turn')} data-testid="turn-knob"><title>Turn</title></circle>
      <rect x={p1[0] - 5} y={p1[1] - 5} width={10} height={10} fill="var(--leaf)" stroke="var(--brass)" strokeWidth={2} transform={`rotate(45 ${p1[0]} ${p1[1]})`} style={{ cursor: 'nwse-resize' }} {...on('size')} data-testid="size-knob"><title>Size</title></rect>
    </g>
  );
}

function nearest(values: readonly number[], at: number, reach: number): number | null {
  let best: number | null = null;
  for (const v of values) if (Math.abs(v - at) <= reach && (best === null || Math.abs(v - at) < Math.abs(best - at))) best = v;
  return best;
}
