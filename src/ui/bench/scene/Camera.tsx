import { useEffect, useRef } from 'react';
import { useThree } from '@react-three/fiber';
import { OrbitControls, OrthographicCamera, PerspectiveCamera } from '@react-three/drei';
import * as THREE from 'three';
import type { Box3 } from './bounds';

/** Sides that the piece can be seen from. */
export type Face = 'front' | 'end' | 'back';

const DEG = Math.PI / 180;
const DIRECTIONS: Record<Face, [number, number, number]> = { front: [0, 0, 1], end: [-1, 0, 0], back: [0, 0, -1] };
/** Angle of view in perspective, degrees: that of a portrait. */
const FOV_DEG = 22;

/** Orthographic, so that what looks centred is centred, or as the eye sees it. */
export function Camera({
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
