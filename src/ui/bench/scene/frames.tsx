import { useEffect, useRef } from 'react';
import { useFrame, useThree } from '@react-three/fiber';
import { useCapture } from '../capture';
import type { FrameCost } from '../useThrottled';

/** Draws a frame when any of what it is given is new. */
export function Redraw({ deps }: { deps: readonly unknown[] }) {
  const invalidate = useThree((s) => s.invalidate);
  // eslint-disable-next-line react-hooks/exhaustive-deps
  useEffect(() => invalidate(), [invalidate, ...deps]);
  return null;
}

/** Measures how long a frame holds the page up: from its drawing to the next turn of the page. */
export function FrameMeter({ cost }: { cost: React.RefObject<FrameCost> }) {
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

/**
 * Coarse while things change, unless the machine is quick, so that they change at once; sharp when they rest. The drawing's own size is
 * set past the scene's state: that would ask for a frame more, and would be put back at every rendering of the scene.
 */
export function Sharpen({ quick }: { quick: boolean }) {
  const moving = quick ? window.devicePixelRatio : 1;
  const resting = Math.max(2, window.devicePixelRatio);
  const gl = useThree((s) => s.gl);
  const invalidate = useThree((s) => s.invalidate);
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null);
  const isOwn = useRef(false);
  useFrame(() => {
    if (isOwn.current) {
      isOwn.current = false;
      return;
    }
    if (timer.current) clearTimeout(timer.current);
    if (gl.getPixelRatio() !== moving) gl.setPixelRatio(moving);
    timer.current = setTimeout(() => {
      gl.setPixelRatio(resting);
      isOwn.current = true;
      invalidate();
    }, SHARPEN_AFTER_MS);
  });
  useEffect(
    () => () => {
      if (timer.current) clearTimeout(timer.current);
    },
    [],
  );
  return null;
}

/** Lets a picture of the view be had, larger than it is on the screen. */
export function Picture() {
  const three = useThree();
  useCapture('blank', (widthPx) => {
    const { gl, scene, camera, size, invalidate } = three;
    const width = Math.min(widthPx, gl.capabilities.maxTextureSize);
    const ratio = gl.getPixelRatio();
    gl.setPixelRatio(1);
    gl.setSize(width, Math.round((width * size.height) / size.width), false);
    gl.render(scene, camera);
    // What was drawn is taken at once, before the next frame is.
    const made = new Promise<Blob | null>((resolve) => gl.domElement.toBlob(resolve, 'image/png'));
    gl.setPixelRatio(ratio);
    gl.setSize(size.width, size.height, false);
    invalidate();
    return made;
  });
  return null;
}
