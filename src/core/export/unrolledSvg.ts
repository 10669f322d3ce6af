import { getRing } from '../base/rings';
import type { Job } from '../job/schema';
import { isFeedMove } from '../lay/laidPaths';
import type { Lettering } from '../pipeline/lettering';
import type { Plan } from '../pipeline/plan';
import type { Surface } from '../surface/surface';

const escapeXml = (text: string): string => text.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!);
const f = (v: number): string => String(Math.round(v * 1e4) / 1e4);

/** SVG path data of packed rings or chains with y turned down, as SVG has it. O(n). */
export function toPathData(rings: { xy: Float64Array; starts: Uint32Array }, closed: boolean): string {
  let out = '';
  for (let k = 0; k + 1 < rings.starts.length; k++) {
    const ring = getRing(rings, k);
    for (let i = 0; i < ring.length; i += 2) out += `${i === 0 ? 'M' : 'L'}${f(ring[i]!)} ${f(-ring[i + 1]!)}`;
    if (closed) out += 'Z';
  }
  return out;
}

/**
 * The unrolled view in true size, with the passes of a plan if there is one: millimetre units, one group for the sheet, one for
 * the lettering, one for each level of
 * each cut (`data-depth-mm`). Sheet y points up, so it is turned for SVG.
 */
export function toUnrolledSvg(job: Job, lettering: Lettering, plan: Pick<Plan, 'laid' | 'cuts'> | null, surface: Surface): string {
  const { domain, outline } = surface;
  const width = domain.maxX - domain.minX;
  const height = domain.maxY - domain.minY;
  const enabled = job.cuts.filter((c) => c.enabled);
  const parts = [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${f(width)}mm" height="${f(height)}mm" viewBox="${f(domain.minX)} ${f(-domain.maxY)} ${f(width)} ${f(height)}">`,
    `<title>${escapeXml(job.name)}</title>`,
    `<g id="sheet" fill="none" stroke="#888" stroke-width="0.1">${
      outline
        ? `<path d="${toPathData(outline, true)}"/>`
        : `<rect x="${f(domain.minX)}" y="${f(-domain.maxY)}" width="${f(width)}" height="${f(height)}"/>`
    }</g>`,
    '<g id="lettering">',
  ];
  lettering.artworks.forEach((art, i) => {
    const label = escapeXml(job.inscriptions[i]!.name);
    if (art.regions.xy.length)
      parts.push(
        `<path id="lettering-${art.id}" aria-label="${label}" fill="#222" fill-rule="nonzero" d="${toPathData(art.regions, true)}"/>`,
      );
    if (art.chains.xy.length)
      parts.push(
        `<path id="lettering-${art.id}" aria-label="${label}" fill="none" stroke="#222" stroke-width="0.1" d="${toPathData(art.chains, false)}"/>`,
      );
  });
  parts.push('</g>', '<g id="passes" fill="none" stroke="#b00" stroke-width="0.02">');
  const count = plan?.laid.count ?? 0;
  let open = '';
  let data = '';
  const close = () => {
    if (open && data) parts.push(`<path ${open} d="${data}"/>`);
    data = '';
  };
  for (let i = 0; i < count; i++) {
    const { laid } = plan!;
    if (!isFeedMove(laid.kind[i]!)) continue;
    const cut = laid.cut[i]!;
    const level = laid.level[i]!;
    const key = `id="pass-${enabled[cut]!.id}-${level + 1}" data-cut="${enabled[cut]!.id}" data-level="${level + 1}" data-depth-mm="${f(plan!.cuts[cut]!.levelsMm[level]!)}"`;
    if (key !== open) {
      close();
      open = key;
    }
    const starts = i === 0 || !isFeedMove(laid.kind[i - 1]!);
    data += `${starts ? 'M' : 'L'}${f(laid.sheet[3 * i]!)} ${f(-laid.sheet[3 * i + 1]!)}`;
  }
  close();
  parts.push('</g>', '</svg>', '');
  return parts.join('\n');
}
