'use client';

import { lineToPathData } from '../../core/base/svgPath';
import { useMemo } from 'react';
import type { Blank } from '../../core/job/schema';
import { createMeridian } from '../../core/surface/meridian';
import { formatDeg, formatLength, type Units } from '../common/format';

const WIDTH = 300;
const HEIGHT = 132;
/** The blank itself is drawn within this box. */
const BOX = { x: 66, y: 12, w: 196, h: 74 };

/** A blank's side view: its outline in its own mm, y up, and what is dimensioned on it. */
interface Side {
  /** Closed outline, x y in turn. */
  outline: [number, number][];
  /** Lines of the hidden inside. */
  inside?: [number, number][][];
  /** Dimension up the left side and along the bottom, and more beside the right end. */
  left: { from: number; to: number; text: string };
  bottom: { from: number; to: number; text: string };
  right?: { from: number; to: number; text: string };
  /** Axis of rotation, and where zero lies. */
  axisY?: number;
  zero: [number, number];
  notes?: { x: number; y: number; text: string }[];
  /** Written under the drawing. */
  below?: string;
  /** Ends that stay clear, from x to x. */
  clear?: [number, number][];
}

function drawSide(blank: Blank, units: Units): Side {
  const mm = (v: number) => formatLength(v, units, units === 'mm' ? 2 : 3);
  const clearOf = (b: { clearDatumMm: number; clearFarMm: number }, x1: number): [number, number][] =>
    [
      [0, b.clearDatumMm],
      [x1 - b.clearFarMm, x1],
    ].filter(([a, c]) => c! > a!) as [number, number][];
  switch (blank.kind) {
    case 'cylinder':
    case 'cone': {
      const [d0, d1] = blank.kind === 'cylinder' ? [blank.diameterMm, blank.diameterMm] : [blank.datumDiameterMm, blank.farDiameterMm];
      const L = blank.lengthMm,
        b = blank.boreMm / 2;
      return {
        outline: [
          [0, -d0 / 2],
          [L, -d1 / 2],
          [L, d1 / 2],
          [0, d0 / 2],
        ],
        inside:
          b > 0
            ? [
                [
                  [0, b],
                  [L, b],
                ],
                [
                  [0, -b],
                  [L, -b],
                ],
              ]
            : [],
        left: { from: -d0 / 2, to: d0 / 2, text: `Ø${mm(d0)}` },
        bottom: { from: 0, to: L, text: mm(L) },
        ...(blank.kind === 'cone' && { right: { from: -d1 / 2, to: d1 / 2, text: `Ø${mm(d1)}` } }),
        axisY: 0,
        zero: [0, blank.zero === 'axis' ? 0 : Math.max(d0, d1) / 2],
        notes: b > 0 ? [{ x: L / 2, y: 0, text: `bore ${mm(blank.boreMm)}` }] : [],
        clear: clearOf(blank, L),
      };
    }
    case 'turned': {
      const made = createMeridian(blank.profile);
      const o = new Float64Array(5);
      const up: [number, number][] = [];
      if (made.ok) {
        for (let k = 0; k <= 160; k++) {
          made.value.at((k / 160) * made.value.lengthMm, o);
          up.push([o[0]!, o[1]!]);
        }
      }
      const xs = up.map((p) => p[0]),
        most = Math.max(0, ...up.map((p) => p[1]));
      const x0 = Math.min(...xs),
        x1 = Math.max(...xs);
      return {
        outline: [...up, ...[...up].reverse().map(([x, y]): [number, number] => [x, -y])],
        inside:
          blank.boreMm > 0
            ? [
                [
                  [x0, blank.boreMm / 2],
                  [x1, blank.boreMm / 2],
                ],
                [
                  [x0, -blank.boreMm / 2],
                  [x1, -blank.boreMm / 2],
                ],
              ]
            : [],
        left: { from: -most, to: most, text: `Ø${mm(2 * most)}` },
        bottom: { from: x0, to: x1, text: mm(x1 - x0) },
        axisY: 0,
        zero: [x0, blank.zero === 'axis' ? 0 : most],
      };
    }
    case 'plate': {
      const L = blank.lengthMm,
        W = blank.shape === 'disc' ? L : blank.widthMm;
      return {
        outline:
          blank.shape === 'disc'
            ? Array.from({ length: 72 }, (_, k): [number, number] => [
                L / 2 + (L / 2) * Math.cos((k * Math.PI) / 36),
                (L / 2) * Math.sin((k * Math.PI) / 36),
              ])
            : [
                [0, -W / 2],
                [L, -W / 2],
                [L, W / 2],
                [0, W / 2],
              ],
        left: { from: -W / 2, to: W / 2, text: blank.shape === 'disc' ? `Ø${mm(L)}` : mm(W) },
        bottom: { from: 0, to: L, text: mm(L) },
        zero: [0, 0],
        below: `${mm(blank.thicknessMm)} thick${blank.inclineDeg ? `, ${formatDeg(blank.inclineDeg)} up to +${blank.inclineTowards}` : ''}`,
      };
    }
    case 'arched': {
      const R = blank.radiusMm,
        half = Math.asin(Math.min(1, blank.chordMm / 2 / R)),
        up = blank.side === 'convex' ? 1 : -1;
      const arc = (r: number): [number, number][] =>
        Array.from({ length: 49 }, (_, k) => {
          const t = -half + (2 * half * k) / 48;
          return [r * Math.sin(t), up * (r * Math.cos(t) - R)];
        });
      const inner = Math.max(0, R - up * blank.thicknessMm);
      const outline = [...arc(R), ...arc(inner).reverse()];
      const ys = outline.map((p) => p[1]);
      return {
        outline,
        left: { from: Math.min(...ys), to: Math.max(...ys), text: mm(Math.max(...ys) - Math.min(...ys)) },
        bottom: { from: -blank.chordMm / 2, to: blank.chordMm / 2, text: `${mm(blank.chordMm)} across` },
        zero: [0, blank.zero === 'table' ? Math.min(...ys) : 0],
        below: `R ${mm(R)}, ${mm(blank.thicknessMm)} thick, ${mm(blank.lengthMm)} long`,
      };
    }
    case 'free':
      return { outline: [], left: { from: 0, to: 1, text: '' }, bottom: { from: 0, to: 1, text: '' }, zero: [0, 0] };
  }
}

/** A dimensioned side view of the blank that follows its numbers; an arched plate is seen on its end, a plate from above. */
export function BlankDrawing({ blank, units }: { blank: Blank; units: Units }) {
  const side = useMemo(() => drawSide(blank, units), [blank, units]);
  if (side.outline.length < 2) return null;
  const xs = side.outline.map((p) => p[0]),
    ys = side.outline.map((p) => p[1]);
  const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const k = Math.min(BOX.w / Math.max(1e-6, x1 - x0), BOX.h / Math.max(1e-6, y1 - y0));
  const X = (x: number) => BOX.x + k * (x - x0),
    Y = (y: number) => BOX.y + BOX.h / 2 - k * (y - (y0 + y1) / 2);
  const path = (p: readonly (readonly [number, number])[]) =>
    lineToPathData(
      p.flatMap(([x, y]) => [X(x), Y(y)]),
      { closed: false, decimals: 1 },
    );
  const low = Y(y0) + 14;
  const upright = (x: number, d: { from: number; to: number; text: string }, anchor: 'start' | 'end') => (
    <>
      <g stroke="var(--verdigris)" fill="var(--verdigris)">
        <line x1={x} x2={x} y1={Y(d.from)} y2={Y(d.to)} />
        {Math.abs(Y(d.from) - Y(d.to)) > 14 && <path d={`M${x} ${Y(d.to)} l-2.5 6 h5 z M${x} ${Y(d.from)} l-2.5 -6 h5 z`} stroke="none" />}
      </g>
      <text x={x + (anchor === 'end' ? -5 : 5)} y={(Y(d.from) + Y(d.to)) / 2 + 3} textAnchor={anchor}>
        {d.text}
      </text>
    </>
  );
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="w-100 mb-2"
      role="img"
      aria-label="Drawing of the blank with its sizes"
      fontFamily="var(--mono)"
      fontSize={10}
    >
      <path d={`${path(side.outline)}Z`} fill="#efe4c8" stroke="var(--ink)" strokeWidth={1.2} />
      {side.clear?.map(([a, b]) => (
        <rect key={a} x={X(a)} y={Y(y1)} width={k * (b - a)} height={k * (y1 - y0)} fill="var(--oxide)" opacity={0.14} />
      ))}
      {side.inside?.map((line, i) => (
        <path key={i} d={path(line)} fill="none" stroke="var(--ink)" strokeDasharray="5 3" />
      ))}
      {side.axisY !== undefined && (
        <line x1={X(x0) - 10} x2={X(x1) + 10} y1={Y(side.axisY)} y2={Y(side.axisY)} stroke="var(--soft)" strokeDasharray="10 3 2 3" />
      )}
      {upright(X(x0) - 14, side.left, 'end')}
      {side.right && upright(X(x1) + 10, side.right, 'start')}
      <g stroke="var(--verdigris)" fill="var(--verdigris)">
        <line x1={X(side.bottom.from)} x2={X(side.bottom.to)} y1={low} y2={low} />
        <path d={`M${X(side.bottom.from)} ${low} l6 -2.5 v5 z M${X(side.bottom.to)} ${low} l-6 -2.5 v5 z`} stroke="none" />
      </g>
      <text x={(X(side.bottom.from) + X(side.bottom.to)) / 2} y={low + 12} textAnchor="middle">
        {side.bottom.text}
      </text>
      {side.notes?.map((n) => (
        <text key={n.text} x={X(n.x)} y={Y(n.y) + 3} textAnchor="middle" stroke="#efe4c8" strokeWidth={3} paintOrder="stroke">
          {n.text}
        </text>
      ))}
      {side.below && (
        <text x={(X(x0) + X(x1)) / 2} y={low + 25} textAnchor="middle" fill="var(--soft)">
          {side.below}
        </text>
      )}
      <g transform={`translate(${X(side.zero[0])},${Y(side.zero[1])})`}>
        <circle r={4.5} fill="var(--leaf)" stroke="var(--brass)" strokeWidth={2} />
        <text x={8} y={-5} fill="var(--brass)">
          0
        </text>
      </g>
    </svg>
  );
}
