'use client';

import { wrapDeg } from '../../core/base/angle';
import { useRef } from 'react';
import { isRoundBlank } from '../../core/job/schema';
import { toTurnDeg, type Surface } from '../../core/surface/surface';
import { useBench } from '../state/benchStore';
import type { SheetView } from './sheetView';

/** Lines every thirty degrees, and the seam at both edges of the sheet. */
export function SheetGrid({
  view,
  surface,
  point,
  onSeam,
}: {
  view: SheetView;
  surface: Surface;
  point(event: React.PointerEvent): { x: number; y: number };
  onSeam(): void;
}) {
  const { domain, mmPerRad, periodMm } = surface;
  const lines: React.ReactNode[] = [];
  if (surface.round)
    for (let deg = -720; deg <= 720; deg += 30) {
      const y = (deg * Math.PI * mmPerRad) / 180;
      if (y < domain.minY - 1e-6 || y > domain.maxY + 1e-6) continue;
      lines.push(
        <line
          key={deg}
          x1={view.toX(domain.minX)}
          x2={view.toX(domain.maxX)}
          y1={view.toY(y)}
          y2={view.toY(y)}
          stroke="#fff"
          strokeOpacity={deg === 0 ? 0.95 : 0.4}
          strokeWidth={deg === 0 ? 1.2 : 1}
        />,
      );
    }
  return (
    <g>
      <g pointerEvents="none">{lines}</g>
      {periodMm !== null &&
        [domain.minY, domain.maxY].map((y, k) => (
          <g key={k}>
            <SeamGrip view={view} surface={surface} y={y} point={point} onEnd={onSeam} />
            <line
              pointerEvents="none"
              x1={view.toX(domain.minX)}
              x2={view.toX(domain.maxX)}
              y1={view.toY(y)}
              y2={view.toY(y)}
              stroke="var(--ink)"
              strokeWidth={1.6}
              strokeDasharray="9 4 2 4"
            />
            <text pointerEvents="none" x={view.toX(domain.maxX) - 4} y={view.toY(y) + (y === domain.maxY ? 12 : -5)} textAnchor="end">
              seam
            </text>
          </g>
        ))}
    </g>
  );
}

/** The seam taken by the hand: it jumps to whole degrees, free with Shift. */
function SeamGrip({
  view,
  surface,
  y,
  point,
  onEnd,
}: {
  view: SheetView;
  surface: Surface;
  y: number;
  point(event: React.PointerEvent): { x: number; y: number };
  onEnd(): void;
}) {
  const bench = useBench();
  const from = useRef<{ y: number; deg: number; name: string } | null>(null);
  const { minX, maxX } = surface.domain;
  const end = () => {
    if (!from.current) return;
    const { name } = from.current;
    from.current = null;
    bench.edit(name, (j) => (isRoundBlank(j.blank) ? { ...j, blank: { ...j.blank, seamDeg: wrapDeg(j.blank.seamDeg) || 180 } } : j));
    // Once the page has the new sheet.
    setTimeout(onEnd);
  };
  return (
    <line
      x1={view.toX(minX)}
      x2={view.toX(maxX)}
      y1={view.toY(y)}
      y2={view.toY(y)}
      stroke="transparent"
      strokeWidth={11}
      style={{ cursor: 'ns-resize' }}
      data-grab="seam"
      data-testid={y === surface.domain.maxY ? 'seam' : undefined}
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
        bench.edit(f.name, (j) =>
          isRoundBlank(j.blank) ? { ...j, blank: { ...j.blank, seamDeg: Math.max(-360, Math.min(360, deg)) } } : j,
        );
      }}
      onPointerUp={end}
      onPointerCancel={end}
    >
      <title>Drag to move the seam</title>
    </line>
  );
}
