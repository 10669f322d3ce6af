'use client';

import { useMemo } from 'react';
import { roundTo } from '../../core/base/round';
import type { Surface } from '../../core/surface/surface';
import type { LetteringView } from '../../workers/planning.client';
import { colourOfStretch, MOST_STRETCH } from './stretchColours';
import { useLayGrid } from './useLayGrid';

interface Props {
  surface: Surface;
  lettering: LetteringView | null;
}

/** The lay's squares and the letters on the sheet, coloured by stretch. */
export function StretchSquares({ surface, lettering }: Props) {
  const squares = useLayGrid(surface);
  const { byColour, steep } = useMemo(() => {
    // Squares of one colour are one path.
    const paths = new Map<string, string>();
    let crosses = '';
    squares?.grid.stretch.forEach((s, k) => {
      const colour = colourOfStretch(s);
      const [a, b, c, d] = [0, 1, 2, 3].map((i) => [0, 1].map((j) => roundTo(squares.grid.corners[8 * k + 2 * i + j]!, 3)).join(' '));
      paths.set(colour, `${paths.get(colour) ?? ''}M${a}L${b}L${c}L${d}Z`);
      if (squares.isSteep(k)) crosses += `M${a}L${c}M${b}L${d}`;
    });
    return { byColour: [...paths], steep: crosses };
  }, [squares]);
  return (
    <g pointerEvents="none" data-testid="stretch">
      {byColour.map(([colour, d]) => (
        <path key={colour} d={d} fill={colour} stroke="#6b6152" strokeOpacity={0.35} strokeWidth={0.6} vectorEffect="non-scaling-stroke" />
      ))}
      {steep && (
        <path d={steep} stroke="var(--oxide)" strokeWidth={1} vectorEffect="non-scaling-stroke" data-testid="steep">
          <title>too steep for the projection</title>
        </path>
      )}
      {lettering?.inscriptions.flatMap((i) =>
        i.letters.map((l, k) => (
          <rect
            key={`${i.id}${k}`}
            x={l.box.minX}
            y={l.box.minY}
            width={l.box.maxX - l.box.minX}
            height={l.box.maxY - l.box.minY}
            fill={colourOfStretch(l.stretch)}
            stroke="#6b6152"
            strokeWidth={0.6}
            vectorEffect="non-scaling-stroke"
          >
            <title>{`${l.char}: ${((l.stretch - 1) * 100).toFixed(2)} %`}</title>
          </rect>
        )),
      )}
    </g>
  );
}

export function StretchKey() {
  const stops = Array.from({ length: 9 }, (_, k) => colourOfStretch(1 + MOST_STRETCH * (k / 4 - 1)));
  return (
    <div className="colours">
      −{100 * MOST_STRETCH} %<span style={{ background: `linear-gradient(to right, ${stops.join(',')})` }} />+{100 * MOST_STRETCH} % stretch
    </div>
  );
}
