'use client';

import { useEffect, useState } from 'react';

/** How long drawing the last frame in 3D held the page up, ms; shared between the view that draws and what it shows. */
export interface FrameCost {
  ms: number;
}

/** A frame that costs less than this can be drawn at every change, ms. */
const CHEAP_MS = 20;
/** A dear one is drawn at most this share of the time. */
const SHARE = 1 / 4;

/**
 * The value, but no oftener than drawing it can be afforded: where a frame is cheap, at once; where it is dear (no graphics
 * card), so that three quarters of the time are left for the rest of the page. The newest value always comes through.
 * @param on Whether it is held back at all: while something is dragged.
 */
export function useThrottled<T>(value: T, cost: React.RefObject<FrameCost>, on: boolean): T {
  const [shown, setShown] = useState(value);
  useEffect(() => {
    const pause = !on || cost.current.ms < CHEAP_MS ? 0 : 2 ** Math.ceil(Math.log2(cost.current.ms / SHARE));
    // All that is held back comes through at the same moments (a power of two keeps them the same), so that it shares a frame.
    const now = performance.now();
    const timer = setTimeout(() => setShown(value), pause ? Math.ceil(now / pause) * pause - now : 0);
    return () => clearTimeout(timer);
  }, [value, cost, on]);
  // Without throttling there is no detour: a keystroke must not wait for a second rendering.
  return on ? shown : value;
}
