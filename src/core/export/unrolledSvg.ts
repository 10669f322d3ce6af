import type { Rings } from '../base/rings';
import { roundTo } from '../base/round';
import { ringsToPathData } from '../base/svgPath';
import { isCutMove } from '../lay/laidPaths';
import type { Lettering } from '../pipeline/lettering';
import type { Plan } from '../pipeline/plan';
import type { Setup } from '../pipeline/setup';

const escapeXml = (text: string): string => text.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!);
/** Decimals of lengths, mm: 0.1 µm. */
const DECIMALS = 4;
const f = (v: number): string => String(roundTo(v, DECIMALS));

const toPathData = (rings: Rings, closed: boolean): string => ringsToPathData(rings, { closed, decimals: DECIMALS, yDown: true });

/**
 * The unrolled view in true size, with the passes of a plan if there is one: millimetre units, one group for the sheet, one for
 * the lettering, one for each level of each cut (`data-depth-mm`). Sheet y points up, so it is turned for SVG.
 */
export function toUnrolledSvg({ job, surface, runs }: Setup, lettering: Lettering, plan: Pick<Plan, 'laid' | 'cuts'> | null): string {
  const { domain, outline } = surface;
  const width = domain.maxX - domain.minX;
  const height = domain.maxY - domain.minY;
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
    if (!isCutMove(laid.kind[i]!)) continue;
    const { id, index } = runs[laid.run[i]!]!;
    const level = laid.level[i]!;
    const key = `id="pass-${id}-${level + 1}" data-cut="${id}" data-level="${level + 1}" data-depth-mm="${f(plan!.cuts[index]!.levelsMm[level]!)}"`;
    if (key !== open) {
      close();
      open = key;
    }
    const starts = i === 0 || !isCutMove(laid.kind[i - 1]!);
    data += `${starts ? 'M' : 'L'}${f(laid.sheet[3 * i]!)} ${f(-laid.sheet[3 * i + 1]!)}`;
  }
  close();
  parts.push('</g>', '</svg>', '');
  return parts.join('\n');
}
