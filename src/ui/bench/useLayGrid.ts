'use client';

import { useMemo } from 'react';
import { computeLayGrid, type LayGrid } from '../../core/lay/layGrid';
import { createLayMap } from '../../core/lay/layMap';
import { fromTurnDeg, type Surface } from '../../core/surface/surface';
import { useJobPart, useView } from '../state/benchStore';
import { chooseCell } from './stretchColours';

/** The lettering plane's squares about the selected inscription's anchor; null where letters are laid one by one. */
export function useLayGrid(surface: Surface): { grid: LayGrid; isSteep(k: number): boolean } | null {
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
