'use client';

import { useEffect, useState, type ComponentType } from 'react';
import type { Surface } from '../../core/surface/surface';
import type { LetteringView, PlanView } from '../../workers/planning.client';
import { Button } from '../common/Button';

interface Props {
  lettering: LetteringView | null;
  plan: PlanView | null;
  surface: Surface;
}

/** Whether the browser draws in 3D at all: without a driver it may not. */
function canDraw3d(): boolean {
  try {
    const context = document.createElement('canvas').getContext('webgl2');
    context?.getExtension('WEBGL_lose_context')?.loseContext();
    return context !== null;
  } catch {
    return false;
  }
}

/** The view, or null where it could not draw. */
const load = async (): Promise<ComponentType<Props> | null> => (canDraw3d() ? (await import('./BlankView')).BlankView : null);

/** The next try after one that failed, ms: the server may be starting again. */
const RETRY_MS = 4000;

/**
 * The view of the blank, whose code comes after the page. Where it does not come, the rest of the bench stays and works, with what was
 * typed on it; it is fetched again by and by.
 */
export function LateBlankView(props: Props) {
  const [view, setView] = useState<ComponentType<Props> | null>(null);
  const [tries, setTries] = useState(0);
  const [failed, setFailed] = useState(false);
  const [flat, setFlat] = useState(false);
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | null = null;
    let wanted = true;
    load().then(
      (found) => wanted && (found ? setView(() => found) : setFlat(true)),
      () => {
        if (!wanted) return;
        setFailed(true);
        timer = setTimeout(() => setTries((n) => n + 1), RETRY_MS);
      },
    );
    return () => {
      wanted = false;
      if (timer) clearTimeout(timer);
    };
  }, [tries]);
  const View = view;
  if (View) return <View {...props} />;
  return (
    <div className="view" data-testid="blank-view">
      {flat && (
        <div className="caption" role="status">
          This browser draws nothing in 3D (no WebGL), so the blank is not shown. The unrolled view shows the piece as it is cut, and
          everything else works. Drivers for the graphics card, or hardware acceleration in the browser’s settings, may bring it back.
        </div>
      )}
      {failed && (
        <div className="caption" role="status">
          The view of the blank cannot be loaded: Hobel’s server does not answer. The rest of the bench works.{' '}
          <Button size="sm" variant="link" className="p-0" onClick={() => setTries((n) => n + 1)}>
            Try again
          </Button>
        </div>
      )}
    </div>
  );
}
