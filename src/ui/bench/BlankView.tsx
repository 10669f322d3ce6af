'use client';

import { memo, useEffect, useMemo, useRef, useState } from 'react';
import { Canvas, type RootState } from '@react-three/fiber';
import type * as THREE from 'three';
import { wrapTo } from '../../core/base/angle';
import { toTurnDeg, type Surface } from '../../core/surface/surface';
import type { LetteringView, PlanView } from '../../workers/planning.client';
import { useBench, useJobPart, useView } from '../state/benchStore';
import { useBlank } from '../state/useSurface';
import { computeBox3, type Box3 } from './scene/bounds';
import { Camera, type Face } from './scene/Camera';
import { EngravedSkin } from './scene/EngravedSkin';
import { FrameMeter, Picture, Redraw, Sharpen } from './scene/frames';
import { drawsQuickly } from './scene/measureGraphics';
import { DrawnMark, LetteringSkin } from './scene/LetteringSkin';
import { PassLines } from './scene/PassLines';
import { CursorMark, FaultMarks, ReadingMarks, SeamLine } from './scene/SurfaceMarks';
import { ToolShape } from './scene/ToolShape';
import { Wipe, WipeLine } from './scene/Wipe';
import { useShownToolPlace } from './playhead';
import { Stock, useSolid } from './Stock';
import { LookMenu } from './scene/LookMenu';
import { StretchSkin } from './scene/StretchSkin';
import { TurnDial } from './TurnDial';
import { Turntable } from './Turntable';
import { formatLength } from '../common/format';
import { colourOfDepth } from './passPaths';
import { useThrottled, type FrameCost } from './useThrottled';

interface Props {
  lettering: LetteringView | null;
  plan: PlanView | null;
  surface: Surface;
}

const DEG = Math.PI / 180;

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
  const standing = useView((v) => v.standing);
  const bench = useBench();
  const showStretch = useView((v) => v.showStretch);
  const lay = useJobPart((j) => j.lay);
  const [showBlank, setShowBlank] = useState(true);
  const [showPasses, setShowPasses] = useState(false);
  const engraved = useView((v) => v.engraved);
  const byDepth = useView((v) => v.byDepth);
  const made = useView((v) => v.piece);
  // Only of the plan that is shown: while words are typed, or on coloured squares, the letters stand for themselves.
  const piece = engraved && !showStretch && made && made.plan === plan ? made : null;
  const besides = useView((v) => v.other);
  const other = piece && besides?.of === plan ? besides : null;
  const own = useRef<THREE.Group>(null),
    beside = useRef<THREE.Group>(null);
  const [flat, setFlat] = useState(true);
  const [holding, setHolding] = useState(false);
  const [face, setFace] = useState<{ face: Face; n: number }>({ face: 'front', n: 0 });
  const quick = useMemo(() => drawsQuickly(), []);
  useFollowing(plan, surface);
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
  const seen = useMemo<Box3>(
    () => (standing ? { middle: frame.middle, size: [frame.size[1], frame.size[0], frame.size[2]] } : frame),
    [standing, frame],
  );
  return (
    <div className={`view${picking ? ' picking' : ''}`} data-testid="blank-view">
      <Canvas
        frameloop="demand"
        dpr={quick ? window.devicePixelRatio : 1}
        gl={{ antialias: quick }}
        onCreated={(state) => (three.current = state)}
      >
        <color attach="background" args={['#efe8d9']} />
        <Camera frame={seen} face={face} flat={flat} held={holding || picking} onZoom={setPxPerMm} />
        <ambientLight intensity={1.15} />
        <directionalLight position={[-120, 160, 220]} intensity={1.7} />
        <directionalLight position={[160, -60, 120]} intensity={0.55} />
        <group rotation={[0, 0, standing ? -Math.PI / 2 : 0]}>
          <group position={[-frame.middle[0], 0, 0]}>
            <group rotation={[turnDeg * DEG, 0, 0]}>
              <group position={surface.round ? [0, 0, 0] : [0, -frame.middle[1], -frame.middle[2]]}>
                <group ref={own}>
                  {showBlank && <Stock solid={solid} lettering={lettering} piece={piece} onHold={setHolding} />}
                  {made && (
                    <EngravedSkin
                      piece={made}
                      alone={!showBlank}
                      visible={piece !== null}
                      surface={surface}
                      pxPerMm={pxPerMm}
                      quick={quick}
                    />
                  )}
                </group>
                {other && (
                  <group ref={beside} visible={false}>
                    {showBlank && <Stock solid={solid} lettering={null} piece={other.piece} onHold={setHolding} still />}
                    <EngravedSkin piece={other.piece} alone={!showBlank} visible surface={surface} pxPerMm={pxPerMm} quick={quick} />
                  </group>
                )}
                {showStretch && <StretchSkin surface={surface} lettering={lettering} />}
                {!piece && (
                  <LetteringSkin
                    lettering={lettering}
                    surface={surface}
                    cost={cost}
                    pale={showPasses && !showStretch && plan !== null && plan.laid.count > 0}
                  />
                )}
                <DrawnMark lettering={lettering} />
                {showPasses && plan && !showStretch && <PassLines plan={plan} surface={surface} />}
                {piece && <FaultMarks map={piece.verdict?.map ?? null} surface={surface} />}
                <SeamLine surface={surface} />
                <ReadingMarks lettering={lettering} surface={surface} />
                <CursorMark surface={surface} size={frame.size} cost={cost} />
                <ToolShape plan={plan} surface={surface} />
              </group>
            </group>
          </group>
        </group>
        {other && <Wipe left={own} right={beside} />}
        <Picture />
        <Sharpen quick={quick} />
        <FrameMeter cost={cost} />
        <Redraw
          deps={[lettering, plan, surface, solid, turnDeg, showBlank, showPasses, material, showStretch, lay, standing, piece, other]}
        />
      </Canvas>
      <div className="corner">
        <Turntable three={three} />
        <button
          type="button"
          aria-pressed={engraved}
          title="The piece as the program leaves it, computed from its text"
          onClick={() => bench.view.setState({ engraved: !engraved })}
        >
          Cut
        </button>
        {plan && (
          <button type="button" aria-pressed={showPasses} onClick={() => setShowPasses(!showPasses)}>
            Passes
          </button>
        )}
        <LookMenu flat={flat} onFlat={setFlat} showBlank={showBlank} onBlank={setShowBlank} />
      </div>
      {piece && byDepth && <DepthKey deepestMm={piece.figures.deepestMm} />}
      {other && <WipeLine />}
      <TurnDial onFace={(f) => setFace((s) => ({ face: f, n: s.n + 1 }))} />
      <div className="caption">
        {picking
          ? 'click on the place to letter'
          : `seen ${face.face === 'end' ? 'on the datum end' : `from the ${face.face}`}, ${flat ? 'true to scale' : 'in perspective'}`}
      </div>
    </div>
  );
});

/** Where the tool stands while the blank turns under it, degrees up from the front: so that its tip is plain to see. */
const TOOL_SEEN_DEG = 52;

/** Turns the blank under the tool as the program plays. */
function useFollowing(plan: PlanView | null, surface: Surface): void {
  const bench = useBench();
  const follow = useView((v) => v.followTool && v.playS !== Infinity);
  const place = useShownToolPlace(follow && surface.round ? plan : null);
  const deg = place ? Math.round((toTurnDeg(surface, place.y) - TOOL_SEEN_DEG) * 10) / 10 : null;
  useEffect(() => {
    if (deg !== null) bench.view.setState({ turnDeg: wrapTo(deg, 360) });
  }, [deg, bench]);
}

/** About how large the blank is, mm, before it is drawn. */
function useRoughSize(): number {
  const { surface } = useBlank();
  const { minX, maxX, minY, maxY } = surface.domain;
  return Math.max(maxX - minX, surface.round ? 2 * surface.mmPerRad : maxY - minY);
}

const KEY_STEPS = 8;

/** What the colours of depth stand for. */
function DepthKey({ deepestMm }: { deepestMm: number }) {
  const units = useJobPart((j) => j.units);
  const colours = Array.from({ length: KEY_STEPS + 1 }, (_, k) => colourOfDepth(k / KEY_STEPS));
  return (
    <div className="depth-key" data-testid="depth-key">
      <span>0</span>
      <span className="ramp" style={{ background: `linear-gradient(to right, ${colours.join(', ')})` }} />
      <span>
        {formatLength(deepestMm, units)} {units} deep
      </span>
    </div>
  );
}
