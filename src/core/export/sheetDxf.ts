import { DxfWriter, LWPolylineFlags, point2d, Units } from '@tarikjabiri/dxf';
import { getRing, type Rings } from '../base/rings';
import type { Lettering } from '../pipeline/lettering';
import type { Surface } from '../surface/surface';

/** The sheet in true size as DXF: millimetres, one layer for its edge, one for areas, one for strokes. O(vertices). */
export function toSheetDxf(lettering: Lettering, surface: Surface): string {
  const dxf = new DxfWriter();
  dxf.setUnits(Units.Millimeters);
  const put = (layer: string, xy: ArrayLike<number>, closed: boolean): void => {
    dxf.setCurrentLayerName(layer);
    const vertices = Array.from({ length: xy.length / 2 }, (_, i) => ({ point: point2d(xy[2 * i]!, xy[2 * i + 1]!) }));
    dxf.addLWPolyline(vertices, { flags: closed ? LWPolylineFlags.Closed : LWPolylineFlags.None });
  };
  for (const name of ['SHEET', 'AREAS', 'STROKES']) dxf.addLayer(name, 7, 'CONTINUOUS');
  const { minX, minY, maxX, maxY } = surface.domain;
  if (!surface.outline) put('SHEET', [minX, minY, maxX, minY, maxX, maxY, minX, maxY], true);
  const each = (rings: Rings, layer: string, closed: boolean): void => {
    for (let k = 0; k + 1 < rings.starts.length; k++) put(layer, getRing(rings, k), closed);
  };
  if (surface.outline) each(surface.outline, 'SHEET', true);
  for (const art of lettering.artworks) {
    each(art.regions, 'AREAS', true);
    each(art.chains, 'STROKES', false);
  }
  return dxf.stringify();
}
