'use client';

import type { Blank } from '../../../../core/job/schema';
import { computeConeFigures } from '../../../../core/surface/cone';
import { formatDeg, formatLength, type Units } from '../../../common/format';
import { useSurface } from '../../../state/useSurface';

/** What a workshop reads off a blank: its size laid flat, and what a millimetre is in degrees. */
export function KeyFigures({ blank, units }: { blank: Blank; units: Units }) {
  const surface = useSurface();
  const mm = (v: number, digits?: number) => formatLength(v, units, digits);
  const { domain } = surface;
  const unit = units === 'mm' ? 1 : 25.4;
  const one = units === 'mm' ? 'millimetre' : 'inch';
  const degPer = (radius: number) => formatDeg((unit / radius) * (180 / Math.PI), 4);
  const rows: [string, string, string?][] = [];
  const along = domain.maxX - domain.minX;
  switch (blank.kind) {
    case 'cylinder':
      rows.push(
        ['Along × round', `${mm(along)} × ${mm(surface.periodMm!, 4)} ${units}`, 'unrolled-size'],
        [`One ${one} round is`, degPer(surface.mmPerRad)],
        ['One degree is', `${mm((surface.mmPerRad * Math.PI) / 180, 4)} ${units}`],
      );
      break;
    case 'cone': {
      const f = computeConeFigures(blank);
      rows.push(['Slant length', `${mm(along, 4)} ${units}`], ['Half-angle', formatDeg(Math.abs((f.halfAngleRad * 180) / Math.PI), 4)]);
      if (Number.isFinite(f.apexToDatumMm)) {
        rows.push(
          ['Taper', `1 : ${formatLength(f.ratioK, 'mm', 4)}`],
          ['Apex to datum rim', `${mm(f.apexToDatumMm, 4)} ${units}`],
          ['Apex to far rim', `${mm(f.apexToFarMm, 4)} ${units}`],
          ['Sector, laid flat', formatDeg((f.sectorRad * 180) / Math.PI, 4)],
        );
      }
      if (blank.datumDiameterMm > 0)
        rows.push([
          'Round the datum rim',
          `${mm(Math.PI * blank.datumDiameterMm, 4)} ${units}, ${degPer(blank.datumDiameterMm / 2)}/${units}`,
        ]);
      if (blank.farDiameterMm > 0)
        rows.push(['Round the far rim', `${mm(Math.PI * blank.farDiameterMm, 4)} ${units}, ${degPer(blank.farDiameterMm / 2)}/${units}`]);
      break;
    }
    case 'turned':
      rows.push(
        ['Along the profile', `${mm(along, 4)} ${units}`],
        ['Round the thickest', `${mm(surface.periodMm!, 4)} ${units}`],
        [`One ${one} there is`, degPer(surface.mmPerRad)],
      );
      break;
    case 'plate':
      rows.push(['Along × across', `${mm(along)} × ${mm(domain.maxY - domain.minY)} ${units}`]);
      break;
    case 'arched':
      rows.push(
        ['Along × round', `${mm(along)} × ${mm(domain.maxY - domain.minY, 4)} ${units}`],
        ['Arc from edge to edge', formatDeg(((domain.maxY - domain.minY) / surface.mmPerRad) * (180 / Math.PI), 3)],
        [`One ${one} round is`, degPer(surface.mmPerRad)],
      );
      break;
    case 'free':
      if (surface.outline) rows.push(['Patch, seen from above', `${mm(along, 2)} × ${mm(domain.maxY - domain.minY, 2)} ${units}`]);
      // Lettering keeps to the faces: what they leave of the shape they stand for is the file's own error.
      if (surface.chordMm)
        rows.push(['Faces are coarse by about', `${(surface.chordMm * 1000).toFixed(surface.chordMm < 0.01 ? 1 : 0)} µm`]);
      break;
  }
  if (rows.length === 0) return null;
  return (
    <>
      <h3>Laid flat</h3>
      <table className="figures">
        <tbody>
          {rows.map(([name, value, id]) => (
            <tr key={name}>
              <td>{name}</td>
              <td data-testid={id}>{value}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
