import { useCallback, useEffect, useMemo, useRef, useState, type RefObject } from 'react';
import { select } from 'd3-selection';
import { zoom, zoomIdentity, type ZoomBehavior, type ZoomTransform } from 'd3-zoom';
import type { Surface } from '../../../core/surface/surface';
import { useJobPart } from '../../state/benchStore';
import type { SheetView } from '../sheetView';
import { computeFit, toSheetView } from './sheetGeometry';

const MIN_PX_PER_MM = 0.2;
const MAX_PX_PER_MM = 4000;

export interface SheetViewport {
  /** What the view's own elements are tied to. */
  host: RefObject<HTMLDivElement | null>;
  svg: RefObject<SVGSVGElement | null>;
  size: { width: number; height: number };
  transform: ZoomTransform;
  view: SheetView;
  /** Shows the whole sheet. */
  fit(): void;
  /** Sheet place, mm, and place in the view, px, of a pointer. */
  point(event: React.PointerEvent): { x: number; y: number };
  pixel(event: React.PointerEvent): { px: number; py: number };
}

/** Zoom and size of the unrolled view. A new size of the sheet is shown whole; one that only moved with its seam stays where it is. */
export function useSheetView(surface: Surface): SheetViewport {
  const host = useRef<HTMLDivElement>(null);
  const svg = useRef<SVGSVGElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [transform, setTransform] = useState<ZoomTransform>(zoomIdentity);
  const behaviour = useRef<ZoomBehavior<SVGSVGElement, unknown> | null>(null);
  const { domain } = surface;
  const domainNow = useRef(domain);
  const blankKind = useJobPart((j) => j.blank.kind);

  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => setSize({ width: entry!.contentRect.width, height: entry!.contentRect.height }));
    observer.observe(host.current!);
    return () => observer.disconnect();
  }, []);
  useEffect(() => {
    const made = zoom<SVGSVGElement, unknown>()
      .scaleExtent([MIN_PX_PER_MM, MAX_PX_PER_MM])
      .filter((event: MouseEvent) => event.type === 'wheel' || (!event.shiftKey && !(event.target as Element).closest('[data-grab]')))
      .on('zoom', (event: { transform: ZoomTransform }) => setTransform(event.transform));
    behaviour.current = made;
    select(svg.current!).call(made).on('dblclick.zoom', null);
  }, []);
  const fit = useCallback(() => {
    const fitted = computeFit(domainNow.current, size);
    if (!behaviour.current || !fitted) return;
    select(svg.current!).call(behaviour.current.transform, zoomIdentity.translate(fitted.x, fitted.y).scale(fitted.k));
  }, [size]);
  useEffect(() => {
    domainNow.current = domain;
  }, [domain]);
  const [sheetWidth, sheetHeight] = [domain.maxX - domain.minX, domain.maxY - domain.minY];
  useEffect(fit, [fit, blankKind, sheetWidth, sheetHeight]);

  const view = useMemo(() => toSheetView(transform), [transform]);
  const pixel = useCallback((event: React.PointerEvent) => {
    const box = svg.current!.getBoundingClientRect();
    return { px: event.clientX - box.left, py: event.clientY - box.top };
  }, []);
  const point = useCallback(
    (event: React.PointerEvent) => {
      const { px, py } = pixel(event);
      return { x: view.fromX(px), y: view.fromY(py) };
    },
    [pixel, view],
  );
  return useMemo(() => ({ host, svg, size, transform, view, fit, point, pixel }), [size, transform, view, fit, point, pixel]);
}
