'use client';

import { roundTo } from '../../core/base/round';
import { useEffect, useMemo } from 'react';
import * as THREE from 'three';
import { packRings } from '../../core/base/rings';
import { computeLayGrid, type LayGrid } from '../../core/lay/layGrid';
import { createLayMap } from '../../core/lay/layMap';
import { fillOnSurface, lineOnSurface } from '../../core/lay/mesh';
import { fromTurnDeg, type Surface } from '../../core/surface/surface';
import type { LetteringView } from '../../workers/planning.client';
import { useJobPart, useView } from '../state/benchStore';
import { Lines } from './Drawn';
import { chooseCell, colourOfStretch, MOST_STRETCH } from './stretchColours';

/** Chord error of a square of the lay, and how far it is lifted off the blank, mm. */
const SKIN_TOLERANCE_MM = 0.004;
const SKIN_LIFT_MM = 0.006;

interface Props {
  surface: Surface;
  lettering: LetteringView | null;
}

/** The lettering plane's squares about the selected inscription's anchor; null where letters are laid one by one. */
function useLayGrid(surface: Surface): { grid: LayGrid; isSteep(k: number): boolean } | null {
  const lay = useJobPart((j) => j.lay);
  const inscriptions = useJobPart((j) => j.inscriptions);
  const selected = useView((v) => v.selected);
  const anchor = (inscriptions.find((i) => i.id === selected) ?? inscriptions[0])?.at;
  const [ax, ay] = anchor ? [anchor.xMm, fromTurnDeg(surface, anchor.turnDeg)] : [null, 0];
  return useMemo(() => {
    const map = createLayMap(lay, surface);
    if (ax === null || map.byLetter) return null;
    const grid = computeLayGrid(map, surface, ax, ay, chooseCell(surface));
    const least = Math.cos((lay.steepLimitDeg * Math.PI) / 180);
    return { grid, isSteep: (k) => grid.facing[k]! < least };
  }, [lay, surface, ax, ay]);
}

/** The lay's squares and the letters on the blank, coloured by stretch. */
export function StretchSkin({ surface, lettering }: Props) {
  const squares = useLayGrid(surface);
  const skin = useMemo(() => {
    const positions: number[] = [],
      colours: number[] = [],
      edges: number[] = [];
    const tint = new THREE.Color();
    const put = (xy: number[], colour: string, lift: number): void => {
      const mesh = fillOnSurface(packRings([xy]), surface, lift, SKIN_TOLERANCE_MM);
      tint.set(colour);
      for (const v of mesh.index) positions.push(mesh.positions[3 * v]!, mesh.positions[3 * v + 1]!, mesh.positions[3 * v + 2]!);
      for (let i = 0; i < mesh.index.length; i++) colours.push(tint.r, tint.g, tint.b);
      const line = lineOnSurface(packRings([[...xy, xy[0]!, xy[1]!]]), surface, lift + SKIN_LIFT_MM, SKIN_TOLERANCE_MM);
      for (const v of line) edges.push(v);
    };
    // Steep squares are crossed out on the sheet, dark red here.
    squares?.grid.stretch.forEach((stretch, k) =>
      put([...squares.grid.corners.subarray(8 * k, 8 * k + 8)], squares.isSteep(k) ? '#7a2a1d' : colourOfStretch(stretch), SKIN_LIFT_MM),
    );
    for (const { box, stretch } of lettering?.inscriptions.flatMap((i) => i.letters) ?? []) {
      put([box.minX, box.minY, box.maxX, box.minY, box.maxX, box.maxY, box.minX, box.maxY], colourOfStretch(stretch), 2 * SKIN_LIFT_MM);
    }
    return { positions: Float32Array.from(positions), colours: Float32Array.from(colours), edges: Float32Array.from(edges) };
  }, [squares, surface, lettering]);
  const geometry = useMemo(() => {
    const g = new THREE.BufferGeometry();
    g.setAttribute('position', new THREE.BufferAttribute(skin.positions, 3));
    g.setAttribute('color', new THREE.BufferAttribute(skin.colours, 3));
    return g;
  }, [skin]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  return (
    <>
      <mesh geometry={geometry} raycast={() => undefined}>
        <meshBasicMaterial vertexColors side={THREE.DoubleSide} polygonOffset polygonOffsetFactor={1} polygonOffsetUnits={2} />
      </mesh>
      <Lines positions={skin.edges} colour="#6b6152" opacity={0.3} />
    </>
  );
}

/** The same on the sheet. */
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
