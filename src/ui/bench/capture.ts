import { useEffect, useRef } from 'react';
import { useBench } from '../state/benchStore';

/** The views that pictures can be had of. */
export type CapturedView = 'blank' | 'sheet';

/** Lets a view's picture be had while it stands there. @param capture Makes it so many pixels wide; null if there is nothing to see. */
export function useCapture(view: CapturedView, capture: (widthPx: number) => Promise<Blob | null>): void {
  const { captures } = useBench();
  const latest = useRef(capture);
  useEffect(() => {
    latest.current = capture;
  });
  useEffect(() => {
    captures.set(view, (widthPx) => latest.current(widthPx));
    return () => void captures.delete(view);
  }, [captures, view]);
}
