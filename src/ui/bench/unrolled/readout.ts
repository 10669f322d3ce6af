import { toTurnDeg, type Surface } from '../../../core/surface/surface';
import { formatDeg, formatLength, MM_PER_INCH, type Units } from '../../common/format';

const lengthIn =
  (units: Units) =>
  (mm: number, digits = 2): string =>
    formatLength(mm, units, units === 'mm' ? digits : digits + 1);

/** What is known of the place under the cursor: where it is, how deep it is cut, which letter it belongs to. */
export function describePlace(
  surface: Surface,
  { x, y }: { x: number; y: number },
  units: Units,
  depthMm: number | null,
  letter: string | null,
): string {
  const mm = lengthIn(units);
  const parts = [`x ${mm(x)}`];
  if (surface.round) {
    const radius = surface.radiusAt(x, y);
    parts.push(formatDeg(toTurnDeg(surface, y)), `arc ${mm((y / surface.mmPerRad) * radius)}`, `r ${mm(radius)}`);
  } else parts.push(`y ${mm(y)}`);
  if (depthMm !== null) parts.push(`depth ${mm(depthMm, 3)}`);
  return `${parts.join(' · ')} ${units}${letter === null ? '' : ` · ${letter}`}`;
}

/** The size of the sheet, and what it is true to. */
export function describeSheet(surface: Surface, units: Units): string {
  const mm = lengthIn(units);
  const { minX, maxX, minY, maxY } = surface.domain;
  const [width, height] = [mm(maxX - minX), mm(maxY - minY)];
  if (!surface.round) return `sheet ${width} × ${height} ${units}`;
  if (surface.isometric) {
    const unitMm = units === 'mm' ? 1 : MM_PER_INCH;
    return `unrolled ${width} × ${height} ${units}, ${formatDeg(toTurnDeg(surface, unitMm), 4)} per ${units}`;
  }
  return `${surface.developable ? 'slant' : 'profile'} ${width} ${units}; round, the sheet is true at Ø ${mm(2 * surface.mmPerRad)}`;
}
