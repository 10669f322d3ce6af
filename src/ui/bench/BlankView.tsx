'use client';

import { memo, useEffect, useMemo, useRef, useState } from 'react';
import { Canvas, useFrame, useThree, type RootState } from '@react-three/fiber';
import { OrbitControls, OrthographicCamera, PerspectiveCamera } from '@react-three/drei';
import * as THREE from 'three';
import { interpolateRgb } from 'd3-interpolate';
import { packRings } from '../../core/base/rings';
import { lineOnSurface } from '../../core/lay/mesh';
import { getStance } from '../../core/machine/registry';
import { createWork } from '../../core/machine/stance';
import { listRuns } from '../../core/pipeline/setup';
import type { Surface } from '../../core/surface/surface';
import { MOVE } from '../../core/lay/laidPaths';
import type { LetteringView, PlanView } from '../../workers/planning.client';
import type { Tool } from '../../core/job/schema';
import { useJobPart, useView } from '../state/benchStore';
import { useBlank } from '../state/useSurface';
import { Filled, Lines } from './Drawn';
import { colourOfDepth } from './passPaths';
import { markDrawn } from './marks';
import { findMove } from './moved';
import { useThrottled, type FrameCost } from './useThrottled';
import { useToolPlace } from './playhead';
import { MATERIALS } from './preview';
import { Stock, useSolid } from './Stock';
import { StretchSkin } from './Stretch';
import { Turntable } from './Turntable';
import { TurnDial } from './TurnDial';

interface Props {
  lettering: LetteringView | null;
  plan: PlanView | null;
  surface: Surface;
}

const PASS_LIFT_MM = 0.035;
const DEG = Math.PI / 180;

type Face = 'front' | 'end' | 'back';

/** The lettering on the real shape. The scene is a part of its own: every rendering of it draws a frame. */
export function BlankView({ lettering, plan, surface }: Props) {
  const cost = useRef<FrameCost>({ ms: 0 });
  const dragging = useView((v) => v.dragging);
  return <Scene lettering={useThrottled(lettering, cost, dragging)} plan={plan} surface={surface} cost={cost} />;
}

/** Chord error of the drawn blank, in pixels at the zoom it is seen at. */
const CHORD_PX = 0.3;
/** … and as a share of the blank's size before it was ever drawn. */
const FIRST_CHORD_SHARE = 1e-4;

/** Orthographic, so that what looks centred is centred. */
const Scene = memo(function Scene({ lettering, plan, surface, cost }: Props & { cost: React.RefObject<FrameCost> }) {
  const material = useJobPart((j) => j.material);
  const turnDeg = useView((v) => v.turnDeg);
  const picking = useView((v) => v.picking);
  const showStretch = useView((v) => v.showStretch);
  const lay = useJobPart((j) => j.lay);
  const [showBlank, setShowBlank] = useState(true);
  const [showPasses, setShowPasses] = useState(true);
  const [flat, setFlat] = useState(true);
  const [holding, setHolding] = useState(false);
  const [face, setFace] = useState<{ face: Face; n: number }>({ face: 'front', n: 0 });
  const three = useRef<RootState | null>(null);
  const [pxPerMm, setPxPerMm] = useState(0);
  const rough = useRoughSize();
  // In steps of four, so that turning the wheel does not make a new solid at every notch.
  const chordMm =
    pxPerMm > 0 ? 4 ** Math.round(Math.log(Math.max(1e-6 * rough, CHORD_PX / pxPerMm)) / Math.log(4)) : FIRST_CHORD_SHARE * rough;
  const solid = useSolid(chordMm);
  const bounds = useMemo(() => computeBox3(solid.positions), [solid]);
  // Only a change that shows moves the camera: not the finer faces of the same piece.
  const rounded = JSON.stringify([bounds.middle, bounds.size], (_, v: unknown) => (typeof v === 'number' ? Number(v.toPrecision(3)) : v));
  const frame = useMemo<Box3>(() => {
    const [middle, size] = JSON.parse(rounded) as [Box3['middle'], Box3['size']];
    return { middle, size };
  }, [rounded]);
  return (
    <div className={`view${picking ? ' picking' : ''}`} data-testid="blank-view">
      <Canvas frameloop="demand" dpr={1} gl={{ antialias: false }} onCreated={(state) => (three.current = state)}>
        <color attach="background" args={['#efe8d9']} />
        <Camera frame={frame} face={face} flat={flat} held={holding || picking} onZoom={setPxPerMm} />
        <ambientLight intensity={1.15} />
        <directionalLight position={[-120, 160, 220]} intensity={1.7} />
        <directionalLight position={[160, -60, 120]} intensity={0.55} />
        <group position={[-frame.middle[0], 0, 0]}>
          <group rotation={[turnDeg * DEG, 0, 0]}>
            <group position={surface.round ? [0, 0, 0] : [0, -frame.middle[1], -frame.middle[2]]}>
              {showBlank && <Stock solid={solid} lettering={lettering} onHold={setHolding} />}
              {showStretch && <StretchSkin surface={surface} lettering={lettering} />}
              <Lettering
                lettering={lettering}
                surface={surface}
                cost={cost}
                pale={showPasses && !showStretch && plan !== null && plan.laid.count > 0}
              />
              <DrawnMark lettering={lettering} />
              {showPasses && plan && !showStretch && <PassLines plan={plan} surface={surface} />}
              <SeamLine surface={surface} />
              <ReadingMarks lettering={lettering} surface={surface} />
              <CursorMark surface={surface} size={frame.size} cost={cost} />
              <ToolShape plan={plan} surface={surface} />
            </group>
          </group>
        </group>
        <Sharpen />
        <FrameMeter cost={cost} />
        <Redraw deps={[lettering, plan, surface, solid, turnDeg, showBlank, showPasses, material, showStretch, lay]} />
      </Canvas>
      <div className="corner">
        <Turntable three={three} />
        <button
          type="button"
          aria-pressed={!flat}
          title="Show depth as the eye sees it; off, all is true to scale"
          onClick={() => setFlat(!flat)}
        >
          Perspective
        </button>
        <button type="button" aria-pressed={showBlank} onClick={() => setShowBlank(!showBlank)}>
          Blank
        </button>
        {plan && (
          <button type="button" aria-pressed={showPasses} onClick={() => setShowPasses(!showPasses)}>
            Passes
          </button>
        )}
      </div>
      <TurnDial onFace={(f) => setFace((s) => ({ face: f, n: s.n + 1 }))} />
      <div className="caption">
        {picking
          ? 'click on the place to letter'
          : `seen ${face.face === 'end' ? 'on the datum end' : `from the ${face.face}`}, ${flat ? 'true to scale' : 'in perspective'}`}
      </div>
    </div>
  );
});

interface Box3 {
  middle: [number, number, number];
  size: [number, number, number];
}

function computeBox3(p: Float64Array): Box3 {
  const low = [Infinity, Infinity, Infinity],
    high = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < p.length; i++) {
    low[i % 3] = Math.min(low[i % 3]!, p[i]!);
    high[i % 3] = Math.max(high[i % 3]!, p[i]!);
  }
  if (p.length === 0) return { middle: [0, 0, 0], size: [50, 50, 50] };
  return {
    middle: low.map((v, k) => (v + high[k]!) / 2) as [number, number, number],
    size: low.map((v, k) => Math.max(0.1, high[k]! - v)) as [number, number, number],
  };
}

/** About how large the blank is, mm, before it is drawn. */
function useRoughSize(): number {
  const { surface } = useBlank();
  const { minX, maxX, minY, maxY } = surface.domain;
  return Math.max(maxX - minX, surface.round ? 2 * surface.mmPerRad : maxY - minY);
}

function Redraw({ deps }: { deps: readonly unknown[] }) {
  const invalidate = useThree((s) => s.invalidate);
  // eslint-disable-next-line react-hooks/exhaustive-deps
  useEffect(() => invalidate(), [invalidate, ...deps]);
  return null;
}

/** Measures how long a frame holds the page up: from its drawing to the next turn of the page. */
function FrameMeter({ cost }: { cost: React.RefObject<FrameCost> }) {
  useFrame(() => {
    const drawn = performance.now();
    requestAnimationFrame(() => {
      cost.current.ms = performance.now() - drawn;
    });
  });
  return null;
}

/** Quiet after which the picture is drawn again at twice the points, ms. */
const SHARPEN_AFTER_MS = 700;

/** Coarse while things change, so that they change at once; sharp when they rest. */
function Sharpen() {
  const setDpr = useThree((s) => s.setDpr);
  const invalidate = useThree((s) => s.invalidate);
  const state = useRef<{ timer: ReturnType<typeof setTimeout> | null; sharp: boolean; skip: number }>({
    timer: null,
    sharp: false,
    skip: 0,
  });
  useFrame(() => {
    const now = state.current;
    if (now.skip > 0) {
      now.skip--;
      return;
    }
    if (now.timer) clearTimeout(now.timer);
    if (now.sharp) {
      now.sharp = false;
      setDpr(1);
    }
    now.timer = setTimeout(() => {
      now.sharp = true;
      // The resize and the frame it asks for are this one's own.
      now.skip = 2;
      setDpr(2);
      invalidate();
    }, SHARPEN_AFTER_MS);
  });
  useEffect(() => {
    const now = state.current;
    return () => {
      if (now.timer) clearTimeout(now.timer);
    };
  }, []);
  return null;
}

const DIRECTIONS: Record<Face, [number, number, number]> = { front: [0, 0, 1], end: [-1, 0, 0], back: [0, 0, -1] };
/** Angle of view in perspective, degrees: that of a portrait. */
const FOV_DEG = 22;

function Camera({
  frame,
  face,
  flat,
  held,
  onZoom,
}: {
  frame: Box3;
  face: { face: Face; n: number };
  flat: boolean;
  held: boolean;
  onZoom(pxPerMm: number): void;
}) {
  const orthographic = useRef<THREE.OrthographicCamera>(null);
  const perspective = useRef<THREE.PerspectiveCamera>(null);
  const controls = useRef<React.ComponentRef<typeof OrbitControls>>(null);
  const size = useThree((s) => s.size);
  const invalidate = useThree((s) => s.invalidate);
  const tellZoom = () => {
    if (flat) onZoom(orthographic.current?.zoom ?? 0);
    else if (perspective.current && controls.current)
      onZoom(size.height / (2 * perspective.current.position.distanceTo(controls.current.target) * Math.tan((FOV_DEG * DEG) / 2)));
  };
  useEffect(() => {
    const [length, width, depth] = frame.size;
    const across = Math.max(width, depth);
    const far = 2 * (length + 2 * across);
    const [x, y, z] = DIRECTIONS[face.face];
    // A little from above, so that the round shows; end-on exactly square.
    const end = face.face === 'end';
    const direction = new THREE.Vector3(x - (end ? 0 : 0.12), y + (end ? 0 : 0.22), z).normalize();
    const zoom = 0.9 * Math.min(size.width / (end ? 1.15 * across : 1.03 * length + 0.15 * across), size.height / (1.2 * across));
    if (orthographic.current) {
      orthographic.current.position.copy(direction).multiplyScalar(far);
      orthographic.current.zoom = zoom;
      orthographic.current.near = 0.1;
      orthographic.current.far = 3 * far;
      orthographic.current.updateProjectionMatrix();
    }
    if (perspective.current) {
      const away = size.height / zoom / 2 / Math.tan((FOV_DEG * DEG) / 2) + across / 2;
      perspective.current.position.copy(direction).multiplyScalar(away);
      perspective.current.near = 0.02 * away;
      perspective.current.far = 4 * away;
      perspective.current.updateProjectionMatrix();
    }
    controls.current?.target.set(0, 0, 0);
    controls.current?.update();
    onZoom(zoom);
    invalidate();
  }, [frame, face, flat, size.width, size.height, invalidate, onZoom]);
  return (
    <>
      <OrthographicCamera ref={orthographic} makeDefault={flat} position={[0, 0, 100]} />
      <PerspectiveCamera ref={perspective} makeDefault={!flat} fov={FOV_DEG} position={[0, 0, 100]} />
      <OrbitControls
        ref={controls}
        key={flat ? 'flat' : 'deep'}
        enableDamping={false}
        enabled={!held}
        onChange={() => invalidate()}
        onEnd={tellZoom}
      />
    </>
  );
}

function Lettering({
  lettering,
  surface,
  cost,
  pale,
}: {
  lettering: LetteringView | null;
  surface: Surface;
  cost: React.RefObject<FrameCost>;
  pale: boolean;
}) {
  const inscriptions = useThrottled(
    useJobPart((j) => j.inscriptions),
    cost,
    useView((v) => v.dragging),
  );
  const selection = useView((v) => v.selection);
  const material = useJobPart((j) => j.material);
  // Under passes the letters step back, or the colours that tell the depth could not be read.
  const tone = (ink: string): string => (pale ? interpolateRgb(ink, MATERIALS[material].body)(0.6) : ink);
  return lettering?.inscriptions.map((i) => {
    // A drag is shown by moving what is there, on a surface that looks the same everywhere; the lettering set anew follows.
    const move = isTurnedLike(surface)
      ? findMove(
          i,
          inscriptions.find((own) => own.id === i.id),
        )
      : { dxMm: 0, dTurnDeg: 0 };
    return (
      <group key={i.id} position={[move.dxMm, 0, 0]} rotation={[-move.dTurnDeg * DEG, 0, 0]}>
        {i.fill.positions.length > 0 && <Filled mesh={i.fill} colour={tone(selection.includes(i.id) ? '#4a3507' : '#1e1b17')} />}
        {i.lines.length > 0 && <Lines positions={i.lines} colour={tone(selection.includes(i.id) ? '#4a3507' : '#1e1b17')} />}
      </group>
    );
  });
}

/** Whether moving lettering on it is turning and shifting it whole, about the blank's own axis. */
const isTurnedLike = (surface: Surface): boolean => surface.homogeneous === 'everywhere' && surface.periodMm !== null;

/** Leaves a mark in the frame that draws new lettering. A point that nobody sees, drawn last. */
function DrawnMark({ lettering }: { lettering: LetteringView | null }) {
  const told = useRef<LetteringView | null>(null);
  return (
    <mesh
      renderOrder={999}
      frustumCulled={false}
      onAfterRender={() => {
        if (told.current === lettering) return;
        told.current = lettering;
        markDrawn('blank');
      }}
    >
      <planeGeometry args={[1e-6, 1e-6]} />
      <meshBasicMaterial transparent opacity={0} depthWrite={false} />
    </mesh>
  );
}

/** Passes drawn on the surface over their place, coloured by depth: the groove itself would hide them. */
function PassLines({ plan, surface }: { plan: PlanView; surface: Surface }) {
  const { positions, colours } = useMemo(() => {
    const { laid } = plan;
    const deepest = Math.max(1e-9, ...plan.cuts.map((c) => c.maxDepthMm));
    const out: number[] = [];
    const tint: number[] = [];
    const frame = new Float64Array(6),
      bend = new Float64Array(3);
    const colour = new THREE.Color();
    for (let i = 1; i < laid.count; i++) {
      if (laid.kind[i] !== MOVE.cut) continue;
      const [x0, y0, d0, x1, y1, d1] = Array.from({ length: 6 }, (_, k) => laid.sheet[3 * i - 3 + k]!) as [
        number,
        number,
        number,
        number,
        number,
        number,
      ];
      // Straight on the sheet is bent on the blank: in pieces, or it would sink in.
      surface.bendInto((x0 + x1) / 2, (y0 + y1) / 2, bend);
      const sag = (bend[0]! * (x1 - x0) ** 2 + 2 * bend[1]! * Math.abs((x1 - x0) * (y1 - y0)) + bend[2]! * (y1 - y0) ** 2) / 8;
      const pieces = Math.min(64, Math.max(1, Math.ceil(Math.sqrt((2 * sag) / PASS_LIFT_MM))));
      for (let p = 0; p < pieces; p++) {
        for (const t of [p / pieces, (p + 1) / pieces]) {
          surface.frameInto(x0 + t * (x1 - x0), y0 + t * (y1 - y0), frame);
          for (let a = 0; a < 3; a++) out.push(frame[a]! + PASS_LIFT_MM * frame[3 + a]!);
          colour.set(colourOfDepth(Math.max(0, d0 + t * (d1 - d0)) / deepest));
          tint.push(colour.r, colour.g, colour.b);
        }
      }
    }
    return { positions: Float32Array.from(out), colours: Float32Array.from(tint) };
  }, [plan, surface]);
  return <Lines positions={positions} colours={colours} />;
}

function SeamLine({ surface }: { surface: Surface }) {
  const positions = useMemo(() => {
    if (surface.periodMm === null) return new Float32Array(0);
    const { minX, maxX, maxY } = surface.domain;
    return lineOnSurface(packRings([[minX, maxY, maxX, maxY]]), surface, 0.05, 0.01);
  }, [surface]);
  return positions.length > 0 ? <Lines positions={positions} colour="#2b2722" /> : null;
}

/** Where what is selected begins to read, in which direction, and which way is up, as on the unrolled view. */
function ReadingMarks({ lettering, surface }: { lettering: LetteringView | null; surface: Surface }) {
  const selection = useView((v) => v.selection);
  const positions = useMemo(() => {
    const out: number[] = [];
    const frame = new Float64Array(6);
    const size = surface.round ? 0.06 * surface.mmPerRad : 0.03 * (surface.domain.maxX - surface.domain.minX);
    for (const i of lettering?.inscriptions ?? []) {
      if (!selection.includes(i.id) || i.box.minX > i.box.maxX) continue;
      const [x, y, rx, ry, ux, uy] = i.reading as unknown as [number, number, number, number, number, number];
      const put = (a: number, b: number) => {
        surface.frameInto(x + size * (a * rx + b * ux), y + size * (a * ry + b * uy), frame);
        for (let k = 0; k < 3; k++) out.push(frame[k]! + 0.06 * frame[3 + k]!);
      };
      for (const [a, b] of [
        [-0.5, 0.9],
        [-0.5, 0],
        [-0.5, 0],
        [0.9, 0],
        [0.5, 0.25],
        [0.9, 0],
        [0.9, 0],
        [0.5, -0.25],
      ] as const)
        put(a, b);
    }
    return Float32Array.from(out);
  }, [lettering, surface, selection]);
  return positions.length > 0 ? <Lines positions={positions} colour="#1f6f63" /> : null;
}

function CursorMark({ surface, size, cost }: { surface: Surface; size: readonly number[]; cost: React.RefObject<FrameCost> }) {
  const cursor = useThrottled(
    useView((v) => v.cursor),
    cost,
    true,
  );
  if (!cursor || surface.outsideMm(cursor.x, cursor.y) > 0) return null;
  const p = new Float64Array(3);
  surface.pointInto(cursor.x, cursor.y, p);
  return (
    <mesh position={[p[0]!, p[1]!, p[2]!]}>
      <sphereGeometry args={[0.009 * Math.max(...size), 16, 12]} />
      <meshBasicMaterial color="#a67a1e" />
    </mesh>
  );
}

/** The cutter at the playhead, in its true shape, standing as the machine lets it. */
function ToolShape({ plan, surface }: { plan: PlanView | null; surface: Surface }) {
  const cuts = useJobPart((j) => j.cuts);
  const tools = useJobPart((j) => j.tools);
  const machine = useJobPart((j) => j.machine);
  const blank = useJobPart((j) => j.blank);
  const place = useToolPlace(plan);
  if (!plan || !place) return null;
  const tool = listRuns({ cuts, tools })[plan.laid.run[plan.blocks.move[place.block]!]!]?.tool;
  if (!tool) return null;
  const f = new Float64Array(6);
  createWork(surface, getStance(machine, blank)).poseInto(place.x, place.y, f);
  const normal = new THREE.Vector3(f[3], f[4], f[5]);
  const tip = new THREE.Vector3(f[0], f[1], f[2]).addScaledVector(normal, -place.depth);
  const turn = new THREE.Quaternion().setFromUnitVectors(new THREE.Vector3(0, 1, 0), normal);
  return <Cutter tool={tool} position={tip} quaternion={turn} />;
}

function Cutter({ tool, position, quaternion }: { tool: Tool; position: THREE.Vector3; quaternion: THREE.Quaternion }) {
  const points = useMemo(() => {
    const r = tool.diameterMm / 2;
    const flat = tool.kind === 'v' ? tool.tipMm / 2 : tool.kind === 'flat' ? r : 0.01;
    const cone = tool.kind === 'flat' ? 0 : (r - flat) / Math.tan((tool.includedDeg * DEG) / 2);
    return [
      [0, 0],
      [flat, 0],
      [r, cone],
      [r, cone + 3 * tool.diameterMm],
      [0, cone + 3 * tool.diameterMm],
    ].map(([x, y]) => new THREE.Vector2(x, y));
  }, [tool]);
  return (
    <mesh position={position} quaternion={quaternion}>
      <latheGeometry args={[points, 48]} key={tool.id} />
      <meshLambertMaterial color="#1f6f63" transparent opacity={0.62} />
    </mesh>
  );
}
