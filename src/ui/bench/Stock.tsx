'use client';

import { roundTo } from '../../core/base/round';
import { useEffect, useMemo, useRef } from 'react';
import { useThree, type ThreeEvent } from '@react-three/fiber';
import * as THREE from 'three';
import { acceleratedRaycast, computeBoundsTree, disposeBoundsTree } from 'three-mesh-bvh';
import type { BlankOf } from '../../core/job/schema';
import { computePoseAxes } from '../../core/shape/patch';
import { createSolid, type Solid } from '../../core/surface/solid';
import { toTurnDeg, type Surface } from '../../core/surface/surface';
import type { LetteringView } from '../../workers/planning.client';
import { changeEach, selectOnly } from '../state/selection';
import { useBench, useJobPart, useView } from '../state/benchStore';
import { useBlank } from '../state/useSurface';
import type { ShownPiece } from '../state/piece';
import { createGrain, createMatcap } from './matcap';
import { MATERIALS } from './preview';
import { addSheetPlaces, maskSkin } from './scene/skinMask';

/** From so many triangles on, a tree finds the one under the pointer. */
const TREE_FROM = 20_000;
/** A line shorter than this is a click that slipped, mm. */
const LEAST_LINE_MM = 0.15;
/** The grain repeats every so many mm. */
export const GRAIN_MM = 20;

/** The solid as it is drawn: fine enough for the zoom, from the same sizes as everything else. */
export function useSolid(chordMm: number): Solid {
  const blank = useJobPart((j) => j.blank);
  const { shapes, surface } = useBlank();
  // A free shape comes in when its surface does.
  // eslint-disable-next-line react-hooks/exhaustive-deps
  return useMemo(() => createSolid(blank, chordMm, shapes), [blank, chordMm, shapes, blank.kind === 'free' ? surface : null]);
}

interface Props {
  solid: Solid;
  lettering: LetteringView | null;
  /** The piece as it is cut, where it is drawn so: its lettered parts are left out here. */
  piece: ShownPiece | null;
  /** Told when lettering is being dragged on the blank, so that the view does not turn with it. */
  onHold(holding: boolean): void;
  /** Whether it is only looked at. */
  still?: boolean;
}

interface Drag {
  x: number;
  y: number;
  ids: readonly string[];
  from: ReadonlyMap<string, { xMm: number; turnDeg: number }>;
  name: string;
}

/** The piece of stock. Pointing at it moves the cursor on both views; lettering on it is dragged as on the sheet. */
export function Stock({ solid, lettering, piece, onHold, still = false }: Props) {
  const bench = useBench();
  const { surface } = useBlank();
  const material = useJobPart((j) => j.material);
  const picking = useView((v) => v.picking);
  const drag = useRef<Drag | null>(null);
  const measure = useRef<{ x: number; y: number } | null>(null);
  const look = MATERIALS[material];
  const matcap = useMemo(() => createMatcap(look), [look]);
  const grain = useMemo(() => createGrain(look.grain), [look]);
  useEffect(
    () => () => {
      matcap.dispose();
      grain?.dispose();
    },
    [matcap, grain],
  );
  const geometry = useMemo(() => {
    const g = new THREE.BufferGeometry();
    g.setAttribute('position', new THREE.BufferAttribute(Float32Array.from(solid.positions), 3));
    g.setAttribute('normal', new THREE.BufferAttribute(solid.normals, 3));
    const uv = new Float32Array((2 * solid.positions.length) / 3);
    for (let i = 0; i < uv.length / 2; i++) {
      uv[2 * i] = solid.positions[3 * i]! / GRAIN_MM;
      uv[2 * i + 1] = (0.8 * solid.positions[3 * i + 1]! + 0.6 * solid.positions[3 * i + 2]!) / GRAIN_MM;
    }
    g.setAttribute('uv', new THREE.BufferAttribute(uv, 2));
    g.setIndex(new THREE.BufferAttribute(solid.triangles, 1));
    if (solid.triangles.length / 3 > TREE_FROM) computeBoundsTree.call(g);
    return g;
  }, [solid]);
  const keys = piece?.keys;
  const { skin, setMask } = useMemo(() => {
    const made = new THREE.MeshMatcapMaterial({
      matcap,
      map: grain,
      transparent: look.opacity < 1,
      opacity: look.opacity,
      depthWrite: true,
      polygonOffset: true,
      polygonOffsetFactor: 2,
      polygonOffsetUnits: 8,
    });
    return { skin: made, setMask: maskSkin(made) };
  }, [matcap, grain, look]);
  const invalidate = useThree((s) => s.invalidate);
  useEffect(() => {
    if (piece && !geometry.hasAttribute('sheet')) addSheetPlaces(geometry, surface);
    setMask(surface, piece);
    invalidate();
    // The tiles of a program stay the same while it is played.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [setMask, geometry, surface, keys, invalidate]);
  useEffect(() => () => skin.dispose(), [skin]);
  useEffect(
    () => () => {
      disposeBoundsTree.call(geometry);
      geometry.dispose();
    },
    [geometry],
  );

  const sheetPlace = (event: ThreeEvent<PointerEvent>) => {
    const p = event.eventObject.worldToLocal(event.point.clone());
    const at = surface.toSheet(p.x, p.y, p.z);
    // Faces that are no part of the lettered skin, ends and bores, have no place on the sheet.
    const near = Math.abs(at.heightMm) < Math.max(0.05, 0.02 * (surface.round ? surface.radiusAt(at.x, at.y) : 10));
    return near && surface.outsideMm(at.x, at.y) < 0.5 ? at : null;
  };
  const onDown = (event: ThreeEvent<PointerEvent>) => {
    if (event.button !== 0) return;
    if (picking) {
      event.stopPropagation();
      pick(event);
      return;
    }
    const at = sheetPlace(event);
    if (at && bench.view.getState().measuring) {
      event.stopPropagation();
      (event.target as Element).setPointerCapture(event.pointerId);
      measure.current = { x: at.x, y: at.y };
      bench.view.setState({ measured: { kind: 'place', x: at.x, y: at.y } });
      onHold(true);
      return;
    }
    const hit = at && findInscription(lettering, surface, at.x, at.y);
    if (!at || !hit) return;
    event.stopPropagation();
    const { selection } = bench.view.getState();
    if (!selection.includes(hit)) selectOnly(bench, [hit]);
    bench.view.setState({ station: bench.view.getState().station === 'lay' ? 'lay' : 'lettering' });
    const ids = bench.view.getState().selection;
    const free = bench.document
      .getState()
      .job.inscriptions.filter((i) => ids.includes(i.id) && !i.locked && !(i.kind === 'text' && i.onGuide));
    if (free.length === 0) return;
    (event.target as Element).setPointerCapture(event.pointerId);
    drag.current = {
      x: at.x,
      y: at.y,
      ids: free.map((i) => i.id),
      from: new Map(free.map((i) => [i.id, i.at])),
      name: `hold#${event.nativeEvent.timeStamp}`,
    };
    bench.view.setState({ dragging: true });
    onHold(true);
  };
  const onMove = (event: ThreeEvent<PointerEvent>) => {
    const at = sheetPlace(event);
    bench.view.setState({ cursor: at ? { x: at.x, y: at.y } : null });
    const from = measure.current;
    if (from && at) {
      // The short way over the seam.
      const y1 = surface.periodMm === null ? at.y : at.y - surface.periodMm * Math.round((at.y - from.y) / surface.periodMm);
      if (Math.hypot(at.x - from.x, y1 - from.y) > LEAST_LINE_MM) {
        bench.view.setState({ measured: { kind: 'line', x0: from.x, y0: from.y, x1: at.x, y1 } });
      }
    }
    const d = drag.current;
    if (!d || !at) return;
    const turn = (dy: number) => (surface.periodMm === null ? dy : dy - surface.periodMm * Math.round(dy / surface.periodMm));
    const dx = at.x - d.x,
      dTurn = toTurnDeg(surface, turn(at.y - d.y));
    bench.edit(
      d.name,
      changeEach(d.ids, (i) => {
        const was = d.from.get(i.id)!;
        return { at: { xMm: roundTo(was.xMm + dx, 3), turnDeg: roundTo(was.turnDeg + dTurn, 4) } };
      }),
    );
  };
  const onUp = () => {
    if (measure.current) {
      measure.current = null;
      onHold(false);
    }
    if (!drag.current) return;
    drag.current = null;
    bench.view.setState({ dragging: false });
    onHold(false);
  };
  /** Takes the place under the pointer, in the shape's own frame, as the one to letter. */
  const pick = (event: ThreeEvent<PointerEvent>) => {
    const p = event.eventObject.worldToLocal(event.point.clone());
    const n = event.face!.normal;
    bench.edit(bench.nameStep('pick'), (j) => {
      if (j.blank.kind !== 'free') return j;
      const b: BlankOf<'free'> = j.blank;
      const axes = computePoseAxes(b);
      const lift = b.mount === 'rotary' ? b.axisBelowMm : 0;
      const out = (v: readonly number[]): [number, number, number] =>
        [0, 1, 2].map((k) => axes[0][k]! * v[0]! + axes[1][k]! * v[1]! + axes[2][k]! * v[2]!) as [number, number, number];
      const place = out([p.x, p.y, p.z - lift]);
      return {
        ...j,
        blank: { ...b, pick: b.pick.map((v, k) => v + place[k]! / b.unitMm) as [number, number, number], normal: out([n.x, n.y, n.z]) },
      };
    });
    bench.view.setState({ picking: false });
  };
  return (
    <mesh
      geometry={geometry}
      material={skin}
      raycast={still ? () => undefined : acceleratedRaycast}
      onPointerDown={onDown}
      onPointerMove={onMove}
      onPointerUp={onUp}
      onPointerOut={() => !drag.current && bench.view.setState({ cursor: null })}
    />
  );
}

/** Half-width of the halo in which a thin letter is still met, mm. */
const HALO_MM = 0.6;

/** The topmost inscription with a letter at a sheet place, on any turn; else null. */
function findInscription(lettering: LetteringView | null, surface: Surface, x: number, y: number): string | null {
  const hits = (lettering?.inscriptions ?? []).filter((i) =>
    i.letters.some((l) => {
      const middle = (l.box.minY + l.box.maxY) / 2;
      const own = surface.periodMm === null ? y : y - surface.periodMm * Math.round((y - middle) / surface.periodMm);
      return x >= l.box.minX - HALO_MM && x <= l.box.maxX + HALO_MM && own >= l.box.minY - HALO_MM && own <= l.box.maxY + HALO_MM;
    }),
  );
  return hits[hits.length - 1]?.id ?? null;
}
