import { createCutterShape, widthAt } from '../../core/removal/cutterShape';
import type { Tool } from '../../core/job/schema';

const [WIDTH, HEIGHT, EDGE] = [150, 260, 8];
const STEPS = 48;

/** A cutter to scale, tip down: what cuts, its shank and the holder, with its own axis. */
export function CutterDrawing({ tool }: { tool: Tool }) {
  const shape = createCutterShape(tool);
  const cutting = Math.min(tool.fluteLengthMm, tool.stickOutMm);
  const holderLength = tool.holderMm > 0 ? Math.max(tool.holderLengthMm, 0.1) : 0;
  const tall = tool.stickOutMm + holderLength;
  const wide = Math.max(tool.diameterMm, tool.shankMm, tool.holderMm);
  const scale = Math.min((HEIGHT - 2 * EDGE) / tall, (WIDTH - 2 * EDGE) / wide);
  const x = (w: number): number => WIDTH / 2 + scale * w;
  const y = (h: number): number => HEIGHT - EDGE - scale * h;
  const heights = Array.from({ length: STEPS + 1 }, (_, k) => cutting * (k / STEPS) ** 2);
  const right = heights.map((h) => [x(Math.min(tool.diameterMm / 2, widthAt(shape, h))), y(h)]);
  const left = heights.map((h) => [x(-Math.min(tool.diameterMm / 2, widthAt(shape, h))), y(h)]).reverse();
  const path = [...right, ...left].map(([px, py]) => `${px!.toFixed(2)},${py!.toFixed(2)}`).join(' ');
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      width={WIDTH}
      height={HEIGHT}
      role="img"
      aria-label={`${tool.name}, to scale: ${tool.diameterMm} mm wide, sticks out ${tool.stickOutMm} mm`}
    >
      {holderLength > 0 && (
        <rect
          x={x(-tool.holderMm / 2)}
          y={y(tall)}
          width={scale * tool.holderMm}
          height={scale * holderLength}
          fill="#d8cbb0"
          stroke="#6b5f4b"
        />
      )}
      <rect
        x={x(-tool.shankMm / 2)}
        y={y(tool.stickOutMm)}
        width={scale * tool.shankMm}
        height={scale * Math.max(0, tool.stickOutMm - cutting)}
        fill="#e9e2d3"
        stroke="#6b5f4b"
      />
      <polygon points={path} fill="#c9d6d2" stroke="#1d6a5c" />
      <line x1={WIDTH / 2} x2={WIDTH / 2} y1={2} y2={HEIGHT - 2} stroke="#a3791f" strokeDasharray="8 3 2 3" strokeWidth={0.8} />
    </svg>
  );
}
