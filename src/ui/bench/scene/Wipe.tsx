import { useEffect, type RefObject } from 'react';
import { useFrame, useThree } from '@react-three/fiber';
import type * as THREE from 'three';
import { XIcon } from '@phosphor-icons/react';
import { useBench, useView } from '../../state/benchStore';

interface Props {
  /** What is drawn left of the line, and right of it. */
  left: RefObject<THREE.Group | null>;
  right: RefObject<THREE.Group | null>;
}

/** Draws the scene twice by one camera: with one thing left of a line and with another right of it. */
export function Wipe({ left, right }: Props) {
  const share = useView((v) => v.wipeShare);
  const invalidate = useThree((s) => s.invalidate);
  useEffect(() => invalidate(), [share, invalidate]);
  // With a number above 0 this is what draws, in place of the scene's own drawing.
  useFrame(({ gl, scene, camera, size }) => {
    const [a, b] = [left.current, right.current];
    if (!a || !b) return gl.render(scene, camera);
    const at = Math.round(share * size.width);
    gl.setScissorTest(true);
    for (const isLeft of [true, false]) {
      a.visible = isLeft;
      b.visible = !isLeft;
      gl.setScissor(isLeft ? 0 : at, 0, isLeft ? at : size.width - at, size.height);
      gl.render(scene, camera);
    }
    gl.setScissorTest(false);
    a.visible = true;
    b.visible = false;
  }, 1);
  return null;
}

/** The line between the two, which is dragged, and what stands on either side of it. */
export function WipeLine() {
  const bench = useBench();
  const other = useView((v) => v.other);
  const share = useView((v) => v.wipeShare);
  if (!other) return null;
  const put = (e: React.PointerEvent<HTMLDivElement>): void => {
    const box = e.currentTarget.parentElement!.getBoundingClientRect();
    bench.view.setState({ wipeShare: Math.min(0.98, Math.max(0.02, (e.clientX - box.left) / box.width)) });
  };
  const step = { ArrowLeft: -0.02, ArrowRight: 0.02 } as Record<string, number>;
  return (
    <>
      <div
        role="separator"
        tabIndex={0}
        aria-orientation="vertical"
        aria-label={`These cuts left of it, ${other.name} right of it`}
        aria-valuenow={Math.round(100 * share)}
        className="wipe-line"
        style={{ left: `${100 * share}%` }}
        data-testid="wipe"
        onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
        onPointerMove={(e) => e.buttons > 0 && put(e)}
        onKeyDown={(e) => step[e.key] && bench.view.setState({ wipeShare: Math.min(0.98, Math.max(0.02, share + step[e.key]!)) })}
      />
      <div className="wipe-names">
        <span>these cuts</span>
        <span>
          {other.name}
          <button type="button" aria-label="No more side by side" onClick={() => bench.view.setState({ other: null })}>
            <XIcon size={12} />
          </button>
        </span>
      </div>
    </>
  );
}
