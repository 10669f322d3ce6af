import { isOutlineOnly } from '../../../core/cut/kinds/registry';
import { useRef } from 'react';
import { interpolateRgb } from 'd3-interpolate';
import type { Surface } from '../../../core/surface/surface';
import type { LetteringView } from '../../../workers/planning.client';
import { useJobPart, useView } from '../../state/benchStore';
import { Filled, Lines, Outlined } from './Drawn';
import { markDrawn } from '../marks';
import { findMove } from '../moved';
import { MATERIALS } from '../preview';
import { useThrottled, type FrameCost } from '../useThrottled';

const DEG = Math.PI / 180;

/** The lettering as it lies on the blank. */
export function LetteringSkin({
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
  const cuts = useJobPart((j) => j.cuts);
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
    // A shape that is only gone round is seen as such, with what lies in it.
    const Area = isOutlineOnly(cuts, i.id) ? Outlined : Filled;
    return (
      <group key={i.id} position={[move.dxMm, 0, 0]} rotation={[-move.dTurnDeg * DEG, 0, 0]}>
        {i.fill.positions.length > 0 && <Area mesh={i.fill} colour={tone(selection.includes(i.id) ? '#4a3507' : '#1e1b17')} />}
        {i.lines.length > 0 && <Lines positions={i.lines} colour={tone(selection.includes(i.id) ? '#4a3507' : '#1e1b17')} />}
      </group>
    );
  });
}

/** Whether moving lettering on it is turning and shifting it whole, about the blank's own axis. */
const isTurnedLike = (surface: Surface): boolean => surface.homogeneous === 'everywhere' && surface.periodMm !== null;

/** Leaves a mark in the frame that draws new lettering. A point that nobody sees, drawn last. */
export function DrawnMark({ lettering }: { lettering: LetteringView | null }) {
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
