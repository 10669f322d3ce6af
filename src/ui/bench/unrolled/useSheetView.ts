import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState, type RefObject } from 'react';
import { select } from 'd3-selection';
import { zoom, zoomIdentity, type ZoomBehavior, type ZoomTransform } from 'd3-zoom';
import type { Surface } from '../../../core/surface/surface';
import { useJobPart } from '../../state/benchStore';
import type { SheetView } from '../sheetView';
import type { Box } from '../../../core/base/rings';
import { computeFit, toSheetView, turnPixel, turnZoom, unturnZoom, type SheetZoom } from './sheetGeometry';

const MIN_PX_PER_MM = 0.2;
const MAX_PX_PER_MM = 4000;

export interface SheetViewport {
  /** What the view's own elements are tied to. */
  host: RefObject<HTMLDivElement | null>;
  svg: RefObject<SVGSVGElement | null>;
  /** Size and zoom of the sheet's own view, in which all is drawn: its sides change places where it is turned. */
  size: { width: number; height: number };
  transform: SheetZoom;
  /** What turns that view on to the screen. */
  placing: string | undefined;
  view: SheetView;
  /** Shows the whole sheet. */
  fit(): void;
  /** Shows a part of it as large as it goes. */
  fitTo(box: Box): void;
  /** Sheet place, mm, and place in the view, px, of a pointer. */
  point(event: React.PointerEvent): { x: number; y: number };
  pixel(event: React.PointerEvent): { px: number; py: number };
}

/** Zoom and size of the unrolled view. A new size of the sheet is shown whole; one that only moved with its seam stays where it is. */
export function useSheetView(surface: Surface, turned: boolean): SheetViewport {
  const host = useRef<HTMLDivElement>(null);
  const svg = useRef<SVGSVGElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [onScreen, setOnScreen] = useState<ZoomTransform>(zoomIdentity);
  const own = useMemo(() => (turned ? { width: size.height, height: size.width } : size), [turned, size]);
  const transform = useMemo<SheetZoom>(() => (turned ? turnZoom(onScreen, size.width) : onScreen), [turned, onScreen, size.width]);
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
      .on('zoom', (event: { transform: ZoomTransform }) => setOnScreen(event.transform));
    behaviour.current = made;
    select(svg.current!).call(made).on('dblclick.zoom', null);
  }, []);
  const fitTo = useCallback(
    (box: Box) => {
      const made = computeFit(box, own);
      if (!behaviour.current || !made) return;
      const fitted = turned ? unturnZoom(made, size.width) : made;
      select(svg.current!).call(behaviour.current.transform, zoomIdentity.translate(fitted.x, fitted.y).scale(fitted.k));
    },
    [own, turned, size.width],
  );
  const fit = useCallback(() => fitTo(domainNow.current), [fitTo]);
  // Before anything is painted: a sheet that is turned or sized anew is never seen, nor clicked, at the old zoom.
  useLayoutEffect(() => {
    domainNow.current = domain;
  }, [domain]);
  const [sheetWidth, sheetHeight] = [domain.maxX - domain.minX, domain.maxY - domain.minY];
  useLayoutEffect(fit, [fit, blankKind, sheetWidth, sheetHeight]);

  const view = useMemo(() => toSheetView(transform), [transform]);
  const pixel = useCallback(
    (event: React.PointerEvent) => {
      const box = svg.current!.getBoundingClientRect();
      const [px, py] = [event.clientX - box.left, event.clientY - box.top];
      return turned ? turnPixel(px, py, box.width) : { px, py };
    },
    [turned],
  );
  const point = useCallback(
    (event: React.PointerEvent) => {
      const { px, py } = pixel(event);
      return { x: view.fromX(px), y: view.fromY(py) };
    },
    [pixel, view],
  );
  const placing = turned ? `translate(${size.width},0) rotate(90)` : undefined;
  return useMemo(
    () => ({ host, svg, size: own, transform, placing, view, fit, fitTo, point, pixel }),
    [own, transform, placing, view, fit, fitTo, point, pixel],
  );
}
