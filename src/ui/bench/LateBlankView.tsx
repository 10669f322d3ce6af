'use client';

import { useEffect, useState, type ComponentType } from 'react';
import type { Surface } from '../../core/surface/surface';
import type { LetteringView, PlanView } from '../../workers/planning.client';
import { Button } from '../common/Button';
import { useLate } from '../common/useLate';

interface Props {
  lettering: LetteringView | null;
  plan: PlanView | null;
  surface: Surface;
}

/** The blank is shown without words where they take longer than this, ms. */
const MOST_WAIT_MS = 2000;

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

/** The view, or none where it could not draw. */
const loadView = async (): Promise<{ View: ComponentType<Props> | null }> => ({
  View: canDraw3d() ? (await import('./BlankView')).BlankView : null,
});

/**
 * The view of the blank, whose code comes after the page. Where it does not come, the rest of the bench stays and works, with what was
 * typed on it.
 */
export function LateBlankView(props: Props) {
  // The words first: until they are there the view would take the time that they need.
  const [waited, setWaited] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setWaited(true), MOST_WAIT_MS);
    return () => clearTimeout(timer);
  }, []);
  const { value, failed, again } = useLate(loadView, waited || props.lettering !== null);
  if (value?.View) return <value.View {...props} />;
  return (
    <div className="view" data-testid="blank-view">
      {value && (
        <div className="caption" role="status">
          This browser draws nothing in 3D (no WebGL), so the blank is not shown. The unrolled view shows the piece as it is cut, and
          everything else works. Drivers for the graphics card, or hardware acceleration in the browser’s settings, may bring it back.
        </div>
      )}
      {failed && (
        <div className="caption" role="status">
          The view of the blank cannot be loaded: Hobel’s server does not answer. The rest of the bench works.{' '}
          <Button size="sm" variant="link" className="p-0" onClick={again}>
            Try again
          </Button>
        </div>
      )}
    </div>
  );
}
