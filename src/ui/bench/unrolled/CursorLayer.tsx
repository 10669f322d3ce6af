import type { Surface } from '../../../core/surface/surface';
import type { LetteringView } from '../../../workers/planning.client';
import { useJobPart, useView } from '../../state/benchStore';
import type { DepthProbe } from '../depthProbe';
import { LEFT, TOP } from '../Rulers';
import type { SheetView } from '../sheetView';
import { describePlace, describeSheet } from './readout';
import { findLetter, isOnSheet } from './sheetGeometry';

interface Props {
  lettering: LetteringView | null;
  surface: Surface;
  view: SheetView;
  size: { width: number; height: number };
}

/** The letter under the cursor: drawn and asked for at every move of the mouse, so that nothing else need be. */
function useLetterAtCursor(lettering: LetteringView | null) {
  const cursor = useView((v) => v.cursor);
  const letter =
    cursor && lettering
      ? findLetter(
          lettering.inscriptions.flatMap((i) => i.letters),
          cursor,
        )
      : undefined;
  return { cursor, letter };
}

/** Cross hairs, the frame of the letter under them, and their marks on the rulers. */
export function CursorLayer({ lettering, surface, view, size }: Props) {
  const { cursor, letter } = useLetterAtCursor(lettering);
  if (!cursor) return null;
  const px = view.toX(cursor.x),
    py = view.toY(cursor.y);
  return (
    <g pointerEvents="none">
      {letter && (
        <rect
          x={view.toX(letter.box.minX) - 2}
          y={view.toY(letter.box.maxY) - 2}
          width={view.k * (letter.box.maxX - letter.box.minX) + 4}
          height={view.k * (letter.box.maxY - letter.box.minY) + 4}
          fill="none"
          stroke="var(--brass)"
          strokeDasharray="3 2"
        />
      )}
      {isOnSheet(surface, cursor) && (
        <g stroke="var(--soft)" strokeWidth={0.6} strokeDasharray="2 4">
          <line x1={px} x2={px} y1={TOP} y2={size.height} />
          <line y1={py} y2={py} x1={LEFT} x2={size.width} />
        </g>
      )}
      <g fill="var(--brass)">
        <path d={`M${px},${TOP} l-4,-7 h8 z`} />
        <path d={`M${LEFT},${py} l-7,-4 v8 z`} />
      </g>
    </g>
  );
}

/** What the cursor points at in words, or how large the sheet is. */
export function Readout({ lettering, surface, probe }: Pick<Props, 'lettering' | 'surface'> & { probe: DepthProbe | null }) {
  const units = useJobPart((j) => j.units);
  const { cursor, letter } = useLetterAtCursor(lettering);
  const depthMm = cursor && probe ? probe(cursor.x, cursor.y) : null;
  return (
    <div className="caption" data-testid="readout">
      {cursor && isOnSheet(surface, cursor)
        ? describePlace(surface, cursor, units, depthMm, letter?.char ?? null)
        : describeSheet(surface, units)}
    </div>
  );
}
