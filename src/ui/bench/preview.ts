import { isOutlineOnly } from '../../core/cut/kinds/registry';
import type { Job } from '../../core/job/schema';
import type { Surface } from '../../core/surface/surface';
import type { LetteringView } from '../../workers/planning.client';

const MAX_PREVIEW = 380_000;
/** Points along each edge of the blank's outline in the picture. */
const EDGE_POINTS = 40;

/** The picture of a job on the Shelf: its blank seen from the front, with the lettering that faces the viewer, as SVG. */
export function toPreview(job: Job, lettering: LetteringView | null, surface: Surface | null): string {
  if (!surface) return '';
  const { minX, maxX } = surface.domain;
  const frame = new Float64Array(6);
  const project = (data: string): string =>
    data.replace(/([ML])(-?[\d.e-]+) (-?[\d.e-]+)/g, (_, command: string, x: string, y: string) => {
      surface.pointInto(Number(x), Number(y), frame);
      return `${command}${(Math.round(frame[0]! * 50) / 50).toString()} ${(Math.round(-frame[1]! * 50) / 50).toString()}`;
    });
  const paths = (lettering?.inscriptions ?? []).map((i) => {
    if (i.box.minX > i.box.maxX) return '';
    // Only what faces the viewer, who looks down on the side of the tool.
    surface.frameInto((i.box.minX + i.box.maxX) / 2, (i.box.minY + i.box.maxY) / 2, frame);
    if (frame[5]! < 0) return '';
    const line = 'fill="none" stroke="#2b2722" stroke-width="0.3"';
    const area = i.areaData && `<path d="${project(i.areaData)}" ${isOutlineOnly(job.cuts, i.id) ? line : 'fill="#2b2722"'}/>`;
    return area + (i.strokeData && `<path d="${project(i.strokeData)}" ${line}/>`);
  });
  const edge = traceEdge(surface);
  const xs = edge.map((p) => p[0]),
    ys = edge.map((p) => p[1]);
  const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const pad = 0.03 * Math.max(x1 - x0, y1 - y0, maxX - minX);
  const f = (v: number) => String(Math.round(v * 50) / 50);
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="${f(x0 - pad)} ${f(-y1 - pad)} ${f(x1 - x0 + 2 * pad)} ${f(y1 - y0 + 2 * pad)}"><path d="M${edge.map(([x, y]) => `${f(x)} ${f(-y)}`).join('L')}Z" fill="MATERIAL" stroke="#7d6a43" stroke-width="${f(Math.max(0.1, pad / 10))}"/>${paths.join('')}</svg>`;
  return svg.length > MAX_PREVIEW ? '' : svg.replace('MATERIAL', MATERIALS[job.material].sheet);
}

/** The blank's silhouette from the tool's side: x and y of its edge. */
function traceEdge(surface: Surface): [number, number][] {
  const { domain, outline } = surface;
  const p = new Float64Array(3);
  const at = (x: number, y: number): [number, number] => {
    surface.pointInto(x, y, p);
    return [p[0]!, p[1]!];
  };
  if (outline && outline.starts.length > 1) {
    const n = outline.starts[1]! - outline.starts[0]!;
    return Array.from({ length: n }, (_, i) => at(outline.xy[2 * i]!, outline.xy[2 * i + 1]!));
  }
  const side = (y: number, back: boolean) =>
    Array.from({ length: EDGE_POINTS + 1 }, (_, i) =>
      at(domain.minX + ((back ? EDGE_POINTS - i : i) / EDGE_POINTS) * (domain.maxX - domain.minX), y),
    );
  // A blank that closes on itself is seen as wide as it is at ±90°.
  const quarter = (Math.PI / 2) * surface.mmPerRad;
  const [low, high] = surface.periodMm === null ? [domain.minY, domain.maxY] : [-quarter, quarter];
  return [...side(low, false), ...side(high, true)];
}

/** How a material looks: on the sheet; in 3D, shadow to light, and what lies on top of that. */
export interface Look {
  sheet: string;
  /** Colours from the dark edge over the body to the lit face. */
  dark: string;
  body: string;
  light: string;
  /** How sharp and how bright reflections are, 0 to 1. */
  gloss: number;
  shine: number;
  /** What is drawn into the surface. */
  grain: 'none' | 'brushed' | 'wood' | 'stone';
  /** Below 1 it can be seen through. */
  opacity: number;
}

export const MATERIALS: Record<Job['material'], Look> = {
  brass: { sheet: '#e2c98b', dark: '#5d4415', body: '#c89d43', light: '#f6dd97', gloss: 0.72, shine: 0.85, grain: 'brushed', opacity: 1 },
  bronze: { sheet: '#d3b08a', dark: '#3f2413', body: '#a26a3a', light: '#e2b283', gloss: 0.66, shine: 0.7, grain: 'brushed', opacity: 1 },
  steel: { sheet: '#d5d8d8', dark: '#2c3236', body: '#8d959a', light: '#e8edf0', gloss: 0.78, shine: 0.9, grain: 'brushed', opacity: 1 },
  aluminium: {
    sheet: '#e3e5e3',
    dark: '#565b5e',
    body: '#bfc5c8',
    light: '#fbfcfc',
    gloss: 0.5,
    shine: 0.55,
    grain: 'brushed',
    opacity: 1,
  },
  slate: { sheet: '#c3c7cb', dark: '#23282c', body: '#4b545b', light: '#7e8991', gloss: 0.12, shine: 0.12, grain: 'stone', opacity: 1 },
  maple: { sheet: '#ecd9b4', dark: '#8a6638', body: '#d9b77f', light: '#f3ddb5', gloss: 0.18, shine: 0.16, grain: 'wood', opacity: 1 },
  acrylic: { sheet: '#c9dde2', dark: '#587f8a', body: '#8fb6c1', light: '#ffffff', gloss: 0.95, shine: 1, grain: 'none', opacity: 0.62 },
};

/** How a material looks where it was cut just now: brighter metal, pale slate, wood without its skin, frosted acrylic. */
export const CUT_LOOKS: Record<Job['material'], Look> = {
  brass: { ...MATERIALS.brass, dark: '#4a3208', body: '#d9a83a', light: '#fff3c4', gloss: 0.8, shine: 1 },
  bronze: { ...MATERIALS.bronze, dark: '#2f170a', body: '#b8722f', light: '#ffd9a8', gloss: 0.75, shine: 0.95 },
  steel: { ...MATERIALS.steel, dark: '#14181b', body: '#9aa3a8', light: '#ffffff', gloss: 0.8, shine: 1 },
  aluminium: { ...MATERIALS.aluminium, dark: '#33383b', body: '#c9cfd2', light: '#ffffff', gloss: 0.7, shine: 0.9 },
  slate: { ...MATERIALS.slate, dark: '#8d959b', body: '#c4cace', light: '#eef1f2', gloss: 0.05, shine: 0.05 },
  maple: { ...MATERIALS.maple, dark: '#5a3d1c', body: '#b98a50', light: '#e8c795', gloss: 0.1, shine: 0.08 },
  acrylic: { ...MATERIALS.acrylic, dark: '#8fb0b9', body: '#fbfdfe', light: '#ffffff', gloss: 0.1, shine: 0.2, opacity: 1 },
};
