import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { describe, expect, it } from 'vitest';
import { toSetupDrawing } from '../src/core/export/setupDrawing';
import { toSetupSheet } from '../src/core/export/setupSheet';
import { parseJobText } from '../src/core/job/parse';
import { toPartTexts } from '../src/core/proof/readBack';
import { renderSetupSheet } from '../src/server/resources/setupPdf';
import { readFileSync } from 'node:fs';
import { planJob } from '../tests/support';

/** The words of a PDF in reading order, as another program reads them. */
async function readPdf(bytes: Uint8Array): Promise<{ pages: number; text: string }> {
  const file = await getDocument({ data: bytes.slice(), verbosity: 0 }).promise;
  let text = '';
  for (let n = 1; n <= file.numPages; n++) {
    const { items } = await (await file.getPage(n)).getTextContent();
    text += items.map((i) => ('str' in i ? i.str + (i.hasEOL ? '\n' : ' ') : '')).join('');
  }
  return { pages: file.numPages, text: text.replace(/\s+/g, ' ') };
}

/** Where axes go, followed by modal words alone: nothing of Hobel's interpreter. */
function followWords(text: string) {
  const at: Record<string, number> = {};
  const cuts: Record<string, [number, number]> = {};
  const first: Record<string, number> = {};
  let motion = 'G0';
  for (const line of text.split('\n')) {
    const words = [...line.replace(/\(.*\)/g, '').matchAll(/([GXYZABC])(-?[\d.]+)/g)].map((m) => [m[1]!, Number(m[2])] as const);
    for (const [letter, value] of words) {
      if (letter === 'G' && value <= 3) motion = `G${value}`;
      if (letter !== 'G') {
        at[letter] = value;
        first[letter] ??= value;
      }
    }
    if (motion === 'G0' || !words.some(([l]) => l !== 'G')) continue;
    for (const [letter, value] of Object.entries(at)) {
      const own = (cuts[letter] ??= [value, value]);
      own[0] = Math.min(own[0], value);
      own[1] = Math.max(own[1], value);
    }
  }
  return { first, cuts, last: at };
}

const figure = (v: number): string => v.toFixed(3).replace('-', '−');

describe('the set-up sheet, parsed back by another program', () => {
  it.each(['rain-gauge', 'lamp-hood', 'slate-plate', 'berth-plate'])('%s: says what its program does', async (name) => {
    const parsed = parseJobText(readFileSync(`resources/jobs/${name}.json`, 'utf8'));
    if (!parsed.ok) throw new Error(name);
    // Without arcs, whose bulge lies beyond their ends.
    const job = { ...parsed.value, machine: { ...parsed.value.machine, arcMm: 0 } };
    const { setup, lettering, plan, proof } = await planJob(job);
    const sheet = toSetupSheet(setup, plan, proof, [`${name}.nc`]);
    const start = performance.now();
    const bytes = await renderSetupSheet(sheet, toSetupDrawing(setup.surface, lettering.artworks), '2026-03-01', 'c0ffee'.repeat(11));
    expect(performance.now() - start).toBeLessThan(2000);
    const { pages, text } = await readPdf(bytes);
    expect(pages).toBeLessThanOrEqual(2);
    const told = toPartTexts(plan.program);
    const { first, cuts, last } = followWords(told.join('\n'));
    for (const axis of setup.kinematics.axes) {
      const l = axis.letter;
      const [low, high] = cuts[l]!;
      const unit = axis.kind === 'rotary' ? '°' : 'mm';
      const row = new RegExp(
        `${l}, ${unit} ${figure(first[l]!)} ${figure(low)} ${figure(high)} [−\\d.]+ [−\\d.]+ ${figure(last[l]!)}`.replaceAll('.', '\\.'),
      );
      expect(text).toMatch(row);
    }
    for (const run of setup.runs) expect(text).toContain(`T${run.tool.number} ${run.tool.name}`);
    expect(text).toContain(`${name}.nc ${plan.program.parts[0]!.lines.length}`);
    expect(text).toContain(job.name);
    expect(text).toContain('Job c0ffeec0 ');
    expect(text).not.toMatch(/NaN|Infinity|undefined/);
  });

  it('names every cutter in running order, whether they are put in by hand in one file, each in its own file, or by a changer', async () => {
    const parsed = parseJobText(readFileSync('resources/jobs/berth-plate.json', 'utf8'));
    if (!parsed.ok) throw new Error('no plate');
    // The mill comes again for the edge that is cut out, last of all.
    const wanted = ['T7', 'T6', 'T2', 'T23', 'T7'];
    for (const machine of [{ files: 'one' }, { files: 'per-cutter' }, { toolChanger: true }] as const) {
      const { setup, plan, proof } = await planJob({ ...parsed.value, machine: { ...parsed.value.machine, ...machine } });
      const { tools, files } = toSetupSheet(
        setup,
        plan,
        proof,
        plan.program.parts.map((p) => `plate-${p.suffix}.nc`),
      );
      expect(tools.map((t) => `T${t.number}`)).toEqual(wanted);
      expect(files).toHaveLength('files' in machine && machine.files === 'per-cutter' ? wanted.length : 1);
      // The text says the speeds; all of the program's time is some cutter's.
      expect(tools.map((t) => t.rpm)).toEqual(wanted.map((w) => setup.runs.find((r) => `T${r.tool.number}` === w)!.spindleRpm));
      expect(tools.reduce((sum, t) => sum + t.timeS, 0)).toBeCloseTo(plan.timeS, 3);
    }
  });

  it('the first place to touch is on the surface of a cylinder: Z is its radius, the zero being on the axis', async () => {
    const parsed = parseJobText(readFileSync('resources/jobs/rain-gauge.json', 'utf8'));
    if (!parsed.ok || parsed.value.blank.kind !== 'cylinder') throw new Error('not the gauge');
    const { setup, lettering, plan, proof } = await planJob(parsed.value);
    const sheet = toSetupSheet(setup, plan, proof, ['g.nc']);
    const { text } = await readPdf(await renderSetupSheet(sheet, toSetupDrawing(setup.surface, lettering.artworks), '2026-03-01', 'f'));
    expect(text).toContain('Ø 42 × 60 mm');
    const { first } = followWords(toPartTexts(plan.program)[0]!);
    expect(text).toContain(`X ${figure(first.X!)} Y ${figure(0)} Z ${figure(parsed.value.blank.diameterMm / 2)} A ${figure(first.A!)}`);
    // A right-handed turn brings the top towards who stands in front of a machine with Y away from them.
    expect(text).toContain('the top of the blank goes towards you');
  });
});
