import { useEffect, useRef } from 'react';
import { isOutlineOnly } from '../../../core/cut/kinds/registry';
import type { Cut } from '../../../core/job/schema';
import { useJobPart, useView } from '../../state/benchStore';
import type { LetteringView, PlanView } from '../../../workers/planning.client';
import { useCapture } from '../capture';
import { markDrawn } from '../marks';
import { MATERIALS } from '../preview';
import { lieOnSheet, SheetRelief } from './sheetRelief';
import type { SheetViewport } from './useSheetView';

/** The cut sheet as shaded relief, under the lettering's outline: the same cells that the blank is drawn from. */
export function ReliefLayer({
  plan,
  lettering,
  viewport,
}: {
  plan: PlanView | null;
  lettering: LetteringView | null;
  viewport: SheetViewport;
}) {
  const made = useView((v) => v.piece);
  const cuts = useJobPart((j) => j.cuts);
  const comparing = useView((v) => v.comparing);
  const engraved = useView((v) => v.engraved);
  const material = useJobPart((j) => j.material);
  const fill = useView((v) => v.fill);
  const canvas = useRef<HTMLCanvasElement>(null);
  const relief = useRef<SheetRelief | null>(null);
  const piece = engraved && made && made.plan === plan ? made : null;
  const { size, transform } = viewport;
  useEffect(() => {
    const target = canvas.current;
    if (!target || !piece) return;
    if (!relief.current?.suits(piece, material, fill)) relief.current = new SheetRelief(piece, material, fill);
    else relief.current.follow(piece);
    const ratio = window.devicePixelRatio;
    const [width, height] = [Math.round(size.width * ratio), Math.round(size.height * ratio)];
    if (target.width !== width) target.width = width;
    if (target.height !== height) target.height = height;
    const context = target.getContext('2d')!;
    const shown = { size, transform, ratio };
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.clearRect(0, 0, width, height);
    relief.current.draw(context, shown);
    if (comparing) relief.current.drawDifference(context, shown, areasOf(lettering, cuts));
    relief.current.drawFaults(context, shown);
    markDrawn('piece');
  }, [piece, material, fill, size, transform, comparing, lettering, cuts]);
  // The same window of the sheet at another size, on the material's own colour, with the outlines.
  useCapture('sheet', async (widthPx) => {
    if (!piece || !relief.current) return null;
    const ratio = widthPx / size.width;
    const picture = new OffscreenCanvas(widthPx, Math.round(size.height * ratio));
    const context = picture.getContext('2d')!;
    const shown = { size, transform, ratio };
    context.fillStyle = MATERIALS[material].sheet;
    context.fillRect(0, 0, picture.width, picture.height);
    relief.current.draw(context, shown);
    if (comparing) relief.current.drawDifference(context, shown, areasOf(lettering, cuts));
    relief.current.drawFaults(context, shown);
    lieOnSheet(context, shown);
    context.lineWidth = 0.7 / transform.k;
    context.strokeStyle = '#26312f';
    for (const i of lettering?.inscriptions ?? [])
      for (const data of [i.areaData, i.strokeData]) if (data) context.stroke(new Path2D(data));
    return picture.convertToBlob({ type: 'image/png' });
  });
  if (!piece) return null;
  return (
    <foreignObject width={size.width} height={size.height} pointerEvents="none">
      <canvas ref={canvas} data-testid="relief" style={{ width: size.width, height: size.height, display: 'block' }} />
    </foreignObject>
  );
}

const areasOf = (lettering: LetteringView | null, cuts: readonly Cut[]): string[] =>
  (lettering?.inscriptions ?? []).flatMap((i) => (i.areaData && !isOutlineOnly(cuts, i.id) ? [i.areaData] : []));
