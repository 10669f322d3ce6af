'use client';

import { memo, useEffect, useMemo, useRef, useState } from 'react';
import { Canvas, useFrame, useThree, type ThreeEvent } from '@react-three/fiber';
import { OrbitControls, OrthographicCamera } from '@react-three/drei';
import * as THREE from 'three';
import { interpolateRgb } from 'd3-interpolate';
import type { Surface } from '../../core/surface/surface';
import { MOVE } from '../../core/lay/laidPaths';
import type { LetteringView, PlanView } from '../../workers/planning.client';
import type { Tool } from '../../core/job/schema';
import { useBench, useJobPart, useView } from '../state/benchStore';
import { colourOfDepth } from './passPaths';
import { markDrawn } from './marks';
import { findMove } from './moved';
import { useThrottled, type FrameCost } from './useThrottled';
import { useToolPlace } from './playhead';
import { MATERIALS } from './preview';
import { TurnDial } from './TurnDial';

interface Props {
  lettering: LetteringView | null;
  plan: PlanView | null;
  surface: Surface;
}

/** Largest distance of the drawn blank from the true one, as a share of its radius. */
const CHORD_SHARE = 1e-4;
const PASS_LIFT_MM = 0.035;
const DEG = Math.PI / 180;

type Face = 'front' | 'end' | 'back';

/** The lettering on the real shape. The scene is a part of its own: every rendering of it draws a frame. */
export function BlankView({ lettering, plan, surface }: Props) {
  const cost = useRef<FrameCost>({ ms: 0 });
  const dragging = useView((v) => v.dragging);
  return <Scene lettering={useThrottled(lettering, cost, dragging)} plan={plan} surface={surface} cost={cost} />;
}

/** Orthographic, so that what looks centred is centred. */
const Scene = memo(function Scene({ lettering, plan, surface, cost }: Props & { cost: React.RefObject<FrameCost> }) {
  const blank = useJobPart((j) => j.blank);
  const material = useJobPart((j) => j.material);
  const turnDeg = useView((v) => v.turnDeg);
  const [showBlank, setShowBlank] = useState(true);
  const [showPasses, setShowPasses] = useState(true);
  const [face, setFace] = useState<{ face: Face; n: number }>({ face: 'front', n: 0 });
  return (
    <div className="view" data-testid="blank-view">
      <Canvas frameloop="demand" dpr={1} gl={{ antialias: false }}>
        <color attach="background" args={['#efe8d9']} />
        <Camera length={blank.lengthMm} radius={surface.mmPerRad} face={face} />
        <ambientLight intensity={1.15} />
        <directionalLight position={[-120, 160, 220]} intensity={1.7} />
        <directionalLight position={[160, -60, 120]} intensity={0.55} />
        <group position={[-blank.lengthMm / 2, 0, 0]}>
          <group rotation={[turnDeg * DEG, 0, 0]}>
            {showBlank && <Stock surface={surface} />}
            <Lettering lettering={lettering} surface={surface} cost={cost} pale={showPasses && plan !== null && plan.laid.count > 0} />
            <DrawnMark lettering={lettering} />
            {showPasses && plan && <PassLines plan={plan} surface={surface} />}
            <SeamLine surface={surface} />
            <ReadingMarks lettering={lettering} surface={surface} />
            <CursorMark surface={surface} cost={cost} />
            <ToolShape plan={plan} surface={surface} />
          </group>
        </group>
        <Sharpen />
        <FrameMeter cost={cost} />
        <Redraw deps={[lettering, plan, surface, turnDeg, showBlank, showPasses, material]} />
      </Canvas>
      <div className="corner">
        <button type="button" aria-pressed={showBlank} onClick={() => setShowBlank(!showBlank)}>Blank</button>
        {plan && <button type="button" aria-pressed={showPasses} onClick={() => setShowPasses(!showPasses)}>Passes</button>}
      </div>
      <TurnDial onFace={(f) => setFace((s) => ({ face: f, n: s.n + 1 }))} />
      <div className="caption">seen {face.face === 'end' ? 'on the datum end' : `from the ${face.face}`}, true to scale</div>
    </div>
  );
});

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
  const state = useRef<{ timer: ReturnType<typeof setTimeout> | null; sharp: boolean; skip: number }>({ timer: null, sharp: false, skip: 0 });
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

function Camera({ length, radius, face }: { length: number; radius: number; face: { face: Face; n: number } }) {
  const camera = useRef<THREE.OrthographicCamera>(null);
  const controls = useRef<React.ComponentRef<typeof OrbitControls>>(null);
  const size = useThree((s) => s.size);
  const invalidate = useThree((s) => s.invalidate);
  useEffect(() => {
    const cam = camera.current;
    if (!cam) return;
    const far = 4 * (length + 2 * radius);
    const [x, y, z] = DIRECTIONS[face.face];
    // A little from above, so that the round shows; end-on exactly square.
    const lift = face.face === 'end' ? 0 : 0.22;
    cam.position.set(x * far - (face.face === 'end' ? 0 : 0.12 * far), y * far + lift * far, z * far);
    cam.zoom = 0.9 * Math.min(size.width / (face.face === 'end' ? 2.3 * radius : 1.03 * length + 0.3 * radius), size.height / (2.4 * radius));
    cam.near = 0.1;
    cam.far = 3 * far;
    cam.updateProjectionMatrix();
    controls.current?.target.set(0, 0, 0);
    controls.current?.update();
    invalidate();
  }, [length, radius, face, size.width, size.height, invalidate]);
  return (
    <>
      <OrthographicCamera ref={camera} makeDefault position={[0, 0, 100]} />
      <OrbitControls ref={controls} enableDamping={false} onChange={() => invalidate()} />
    </>
  );
}

function Stock({ surface }: { surface: Surface }) {
  const bench = useBench();
  const material = useJobPart((j) => j.material);
  const { diameterMm, lengthMm, boreMm } = useJobPart((j) => j.blank);
  const radius = diameterMm / 2;
  const segments = Math.min(720, Math.ceil(Math.PI / Math.acos(1 - CHORD_SHARE)));
  const look = MATERIALS[material];
  const profile = useMemo(() => {
    const bore = boreMm / 2;
    // A lathe turns about Y: x is the radius, y runs along; the mesh is turned on to X below.
    return [[bore, 0], [radius, 0], [radius, lengthMm], [bore, lengthMm], ...(bore > 0 ? [[bore, 0]] : [])].map(([x, y]) => new THREE.Vector2(x, y));
  }, [radius, lengthMm, boreMm]);
  const pick = (event: ThreeEvent<PointerEvent>) => {
    const local = event.object.parent!.worldToLocal(event.point.clone());
    const at = surface.toSheet(local.x, local.y, local.z);
    if (Math.abs(at.heightMm) < 0.02 * radius) bench.view.setState({ cursor: { x: at.x, y: at.y } });
  };
  return (
    <mesh rotation={[0, 0, -Math.PI / 2]} onPointerMove={pick} onPointerOut={() => bench.view.setState({ cursor: null })}>
      <latheGeometry args={[profile, segments]} key={`${diameterMm} ${lengthMm} ${boreMm}`} />
      <meshPhongMaterial color={look.colour} specular={look.specular} shininess={look.shininess} polygonOffset polygonOffsetFactor={1} polygonOffsetUnits={1} />
    </mesh>
  );
}

function Lettering({ lettering, surface, cost, pale }: { lettering: LetteringView | null; surface: Surface; cost: React.RefObject<FrameCost>; pale: boolean }) {
  const inscriptions = useThrottled(useJobPart((j) => j.inscriptions), cost, useView((v) => v.dragging));
  const selection = useView((v) => v.selection);
  const material = useJobPart((j) => j.material);
  // Under passes the letters step back, or the colours that tell the depth could not be read.
  const tone = (ink: string): string => (pale ? interpolateRgb(ink, MATERIALS[material].colour)(0.6) : ink);
  return lettering?.inscriptions.map((i) => {
    // A drag is shown by moving what is there, on a surface that looks the same everywhere; the lettering set anew follows.
    const move = surface.kind === 'cylinder' ? findMove(i, inscriptions.find((own) => own.id === i.id)) : { dxMm: 0, dTurnDeg: 0 };
    return (
      <group key={i.id} position={[move.dxMm, 0, 0]} rotation={[-move.dTurnDeg * DEG, 0, 0]}>
        {i.fill.positions.length > 0 && <Filled positions={i.fill.positions} normals={i.fill.normals} colour={tone(selection.includes(i.id) ? '#4a3507' : '#1e1b17')} />}
        {i.lines.length > 0 && <Lines positions={i.lines} colour={tone(selection.includes(i.id) ? '#4a3507' : '#1e1b17')} />}
      </group>
    );
  });
}

/** Leaves a mark in the frame that draws new lettering. A point that nobody sees, drawn last. */
function DrawnMark({ lettering }: { lettering: LetteringView | null }) {
  const told = useRef<LetteringView | null>(null);
  return (
    <mesh renderOrder={999} frustumCulled={false} onAfterRender={() => {
      if (told.current === lettering) return;
      told.current = lettering;
      markDrawn('blank');
    }}>
      <planeGeometry args={[1e-6, 1e-6]} />
      <meshBasicMaterial transparent opacity={0} depthWrite={false} />
    </mesh>
  );
}

function Filled({ positions, normals, colour }: { positions: Float32Array; normals: Float32Array; colour: string }) {
  const geometry = useMemo(() => {
    const g = new THREE.BufferGeometry();
    g.setAttribute('position', new THREE.BufferAttribute(positions, 3));
    g.setAttribute('normal', new THREE.BufferAttribute(normals, 3));
    return g;
  }, [positions, normals]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  return <mesh geometry={geometry}><meshLambertMaterial color={colour} /></mesh>;
}

function Lines({ positions, colours, colour }: { positions: Float32Array; colours?: Float32Array; colour?: string }) {
  const geometry = useMemo(() => {
    const g = new THREE.BufferGeometry();
    g.setAttribute('position', new THREE.BufferAttribute(positions, 3));
    if (colours) g.setAttribute('color', new THREE.BufferAttribute(colours, 3));
    return g;
  }, [positions, colours]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  return <lineSegments geometry={geometry}><lineBasicMaterial color={colour ?? '#ffffff'} vertexColors={Boolean(colours)} /></lineSegments>;
}

/** Passes drawn on the surface over their place, coloured by depth: the groove itself would hide them. */
function PassLines({ plan, surface }: { plan: PlanView; surface: Surface }) {
  const { positions, colours } = useMemo(() => {
    const { laid } = plan;
    const deepest = Math.max(1e-9, ...plan.cuts.map((c) => c.maxDepthMm));
    const out: number[] = [];
    const tint: number[] = [];
    const frame = new Float64Array(6);
    const colour = new THREE.Color();
    for (let i = 1; i < laid.count; i++) {
      if (laid.kind[i] !== MOVE.cut) continue;
      for (const k of [i - 1, i]) {
        surface.frameInto(laid.sheet[3 * k]!, laid.sheet[3 * k + 1]!, frame);
        for (let a = 0; a < 3; a++) out.push(frame[a]! + PASS_LIFT_MM * frame[3 + a]!);
        colour.set(colourOfDepth(Math.max(0, laid.sheet[3 * k + 2]!) / deepest));
        tint.push(colour.r, colour.g, colour.b);
      }
    }
    return { positions: Float32Array.from(out), colours: Float32Array.from(tint) };
  }, [plan, surface]);
  return <Lines positions={positions} colours={colours} />;
}

function SeamLine({ surface }: { surface: Surface }) {
  const positions = useMemo(() => {
    const p = new Float64Array(6);
    const { minX, maxX, maxY } = surface.domain;
    surface.frameInto(minX, maxY, p);
    const lift = (k: number) => p[k]! + 0.05 * p[3 + k]!;
    return Float32Array.from([minX, lift(1), lift(2), maxX, lift(1), lift(2)]);
  }, [surface]);
  return <Lines positions={positions} colour="#2b2722" />;
}

/** Where what is selected begins to read, in which direction, and which way is up, as on the unrolled view. */
function ReadingMarks({ lettering, surface }: { lettering: LetteringView | null; surface: Surface }) {
  const selection = useView((v) => v.selection);
  const positions = useMemo(() => {
    const out: number[] = [];
    const frame = new Float64Array(6);
    const size = 0.06 * surface.mmPerRad;
    for (const i of lettering?.inscriptions ?? []) {
      if (!selection.includes(i.id) || i.box.minX > i.box.maxX) continue;
      const [x, y, rx, ry, ux, uy] = i.reading as unknown as [number, number, number, number, number, number];
      const put = (a: number, b: number) => {
        surface.frameInto(x + size * (a * rx + b * ux), y + size * (a * ry + b * uy), frame);
        for (let k = 0; k < 3; k++) out.push(frame[k]! + 0.06 * frame[3 + k]!);
      };
      for (const [a, b] of [[-0.5, 0.9], [-0.5, 0], [-0.5, 0], [0.9, 0], [0.5, 0.25], [0.9, 0], [0.9, 0], [0.5, -0.25]] as const) put(a, b);
    }
    return Float32Array.from(out);
  }, [lettering, surface, selection]);
  return positions.length > 0 ? <Lines positions={positions} colour="#1f6f63" /> : null;
}

function CursorMark({ surface, cost }: { surface: Surface; cost: React.RefObject<FrameCost> }) {
  const cursor = useThrottled(useView((v) => v.cursor), cost, true);
  if (!cursor || cursor.x < surface.domain.minX || cursor.x > surface.domain.maxX) return null;
  const p = new Float64Array(3);
  surface.pointInto(cursor.x, cursor.y, p);
  return (
    <mesh position={[p[0]!, p[1]!, p[2]!]}>
      <sphereGeometry args={[surface.mmPerRad * 0.018, 16, 12]} />
      <meshBasicMaterial color="#a67a1e" />
    </mesh>
  );
}

/** The cutter at the playhead, in its true shape, its axis along the surface's normal. */
function ToolShape({ plan, surface }: { plan: PlanView | null; surface: Surface }) {
  const cuts = useJobPart((j) => j.cuts);
  const tools = useJobPart((j) => j.tools);
  const place = useToolPlace(plan);
  if (!plan || !place) return null;
  const cut = plan.laid.cut[plan.blocks.move[place.block]!]!;
  const tool = tools.find((t) => t.id === cuts.filter((c) => c.enabled)[cut]?.toolId);
  if (!tool) return null;
  const f = new Float64Array(6);
  surface.frameInto(place.x, place.y, f);
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
    return [[0, 0], [flat, 0], [r, cone], [r, cone + 3 * tool.diameterMm], [0, cone + 3 * tool.diameterMm]].map(([x, y]) => new THREE.Vector2(x, y));
  }, [tool]);
  return (
    <mesh position={position} quaternion={quaternion}>
      <latheGeometry args={[points, 48]} key={tool.id} />
      <meshLambertMaterial color="#1f6f63" transparent opacity={0.62} />
    </mesh>
  );
}
