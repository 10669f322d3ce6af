import type { Job } from '../../core/job/schema';
import { createSurface } from '../../core/surface/registry';
import type { LetteringView } from '../../workers/planning.client';

const MAX_PREVIEW = 380_000;

/** The picture of a job on the Shelf: its blank seen from the front, with the lettering that faces the viewer, as SVG. */
export function toPreview(job: Job, lettering: LetteringView | null): string {
  const surface = createSurface(job.blank);
  const { minX, maxX } = surface.domain;
  const radius = surface.mmPerRad;
  const point = new Float64Array(3);
  const project = (data: string): string =>
    data.replace(/([ML])(-?[\d.e-]+) (-?[\d.e-]+)/g, (_, command: string, x: string, y: string) => {
      surface.pointInto(Number(x), Number(y), point);
      return `${command}${(Math.round(point[0]! * 50) / 50).toString()} ${(Math.round(-point[1]! * 50) / 50).toString()}`;
    });
  const paths = (lettering?.inscriptions ?? []).map((i) => {
    const hidden = Math.abs((i.box.minY + i.box.maxY) / 2) > (radius * Math.PI) / 2;
    if (hidden) return '';
    const area = i.areaData && `<path d="${project(i.areaData)}" fill="#2b2722"/>`;
    return area + (i.strokeData && `<path d="${project(i.strokeData)}" fill="none" stroke="#2b2722" stroke-width="0.3"/>`);
  });
  const pad = 2;
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="${minX - pad} ${-radius - pad} ${maxX - minX + 2 * pad} ${2 * radius + 2 * pad}"><rect x="${minX}" y="${-radius}" width="${maxX - minX}" height="${2 * radius}" fill="MATERIAL" stroke="#7d6a43" stroke-width="0.3"/>${paths.join('')}</svg>`;
  return svg.length > MAX_PREVIEW ? '' : svg.replace('MATERIAL', MATERIALS[job.material].sheet);
}

/** How each material looks: on the sheet, and on the blank in 3D. */
export const MATERIALS: Record<Job['material'], { sheet: string; colour: string; shininess: number; specular: string }> = {
  brass: { sheet: '#e2c98b', colour: '#dcb75e', shininess: 28, specular: '#3c3a36' },
  bronze: { sheet: '#d3b08a', colour: '#b9834c', shininess: 28, specular: '#3c3a36' },
  steel: { sheet: '#d5d8d8', colour: '#a9aeb0', shininess: 32, specular: '#3c3a36' },
  aluminium: { sheet: '#e3e5e3', colour: '#cfd3d3', shininess: 28, specular: '#3c3a36' },
  slate: { sheet: '#c3c7cb', colour: '#555d63', shininess: 9, specular: '#141414' },
  maple: { sheet: '#ecd9b4', colour: '#dcbc86', shininess: 13, specular: '#3c3a36' },
  acrylic: { sheet: '#e4eef0', colour: '#cfe2e6', shininess: 66, specular: '#3c3a36' },
};
