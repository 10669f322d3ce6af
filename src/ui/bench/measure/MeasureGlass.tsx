import { useState } from 'react';
import { useBench, useView } from '../../state/benchStore';
import type { SheetView } from '../sheetView';

/** A drag shorter than this is a click, px. */
const CLICK_PX = 5;

interface Props {
  view: SheetView;
  size: { width: number; height: number };
  point(event: React.PointerEvent): { x: number; y: number };
}

/** A sheet of glass over the unrolled view: a click asks about a place, a drag cuts the piece along a line. */
export function MeasureGlass({ view, size, point }: Props) {
  const bench = useBench();
  const on = useView((v) => v.measuring);
  const measured = useView((v) => v.measured);
  const [from, setFrom] = useState<{ x: number; y: number } | null>(null);
  const line = measured?.kind === 'line' ? measured : null;
  return (
    <>
      {on && (
        <rect
          width={size.width}
          height={size.height}
          fill="transparent"
          data-grab="measure"
          data-testid="measure-glass"
          style={{ cursor: 'crosshair' }}
          onPointerDown={(e) => {
            e.stopPropagation();
            e.currentTarget.setPointerCapture(e.pointerId);
            setFrom(point(e));
          }}
          onPointerMove={(e) => {
            const p = point(e);
            bench.view.setState({ cursor: p });
            if (from && isFar(view, from, p)) bench.view.setState({ measured: { kind: 'line', x0: from.x, y0: from.y, x1: p.x, y1: p.y } });
          }}
          onPointerUp={(e) => {
            const p = point(e);
            if (from && !isFar(view, from, p)) bench.view.setState({ measured: { kind: 'place', x: p.x, y: p.y } });
            setFrom(null);
          }}
        />
      )}
      {line && (
        <g pointerEvents="none" stroke="var(--oxide)" strokeWidth={1.4}>
          <line x1={view.toX(line.x0)} y1={view.toY(line.y0)} x2={view.toX(line.x1)} y2={view.toY(line.y1)} />
          <circle cx={view.toX(line.x0)} cy={view.toY(line.y0)} r={3} fill="var(--leaf)" />
          <circle cx={view.toX(line.x1)} cy={view.toY(line.y1)} r={3} fill="var(--leaf)" />
        </g>
      )}
      {measured?.kind === 'place' && (
        <g
          pointerEvents="none"
          stroke="var(--oxide)"
          strokeWidth={1.4}
          fill="none"
          transform={`translate(${view.toX(measured.x)},${view.toY(measured.y)})`}
        >
          <circle r={5} />
          <path d="M-9 0h18M0-9v18" />
        </g>
      )}
    </>
  );
}

const isFar = (view: SheetView, a: { x: number; y: number }, b: { x: number; y: number }): boolean =>
  Math.hypot(view.toX(a.x) - view.toX(b.x), view.toY(a.y) - view.toY(b.y)) > CLICK_PX;
