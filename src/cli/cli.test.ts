import { spawnSync } from 'node:child_process';
import { copyFileSync, existsSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { buildSync } from 'esbuild';
import { beforeAll, describe, expect, it } from 'vitest';
import { createBlank } from '../core/job/defaults';
import { JOB_VERSION, type Job } from '../core/job/schema';
import { carveJob, lineJob } from '../../tests/support';
import { readNc } from '../../tests/support';
import { decode } from 'fast-png';
import type { ProofReport } from '../core/export/proofReport';
import type { Report } from '../core/export/report';

const dir = mkdtempSync(path.join(tmpdir(), 'hobel-cli-'));
/** Bundled once: loading file by file takes longer than most of what is asked here. Beside the packages, so that they are found. */
const bundle = path.resolve('node_modules/.cache/hobel-test/cli.mjs');
beforeAll(() => {
  buildSync({
    ...{ entryPoints: ['src/cli/main.ts'], bundle: true, platform: 'node', format: 'esm', packages: 'external', outfile: bundle },
    jsx: 'automatic',
  });
});
const hobel = (...args: string[]) => {
  const { status, stdout, stderr } = spawnSync(process.execPath, [bundle, ...args], { encoding: 'utf8' });
  return { status, stdout, stderr };
};
const file = (name: string, value: unknown) => {
  const at = path.join(dir, name);
  writeFileSync(at, typeof value === 'string' ? value : JSON.stringify(value));
  return at;
};
const report = (out: string) => JSON.parse(readFileSync(path.join(out, 'report.json'), 'utf8')) as Report;

describe('hobel plan', () => {
  it('writes program, sheet, report and paths for the demo job', () => {
    const job = file('demo.json', hobel('example', 'rain-gauge').stdout);
    const out = path.join(dir, 'demo');
    const { status, stderr } = hobel('plan', job, '--out', out, '--paths');
    expect(stderr).not.toContain('spoils');
    expect(status).toBe(0);
    const r = report(out);
    const { motions, faults } = readNc(readFileSync(path.join(out, 'program.nc'), 'utf8'));
    expect(faults).toEqual([]);
    expect(Math.min(...motions.map((m) => m.end[2]!))).toBeCloseTo(21 - Math.max(...r.cuts.map((c) => c.maxDepthMm)), 4);
    const paths = readFileSync(path.join(out, 'paths.ndjson'), 'utf8')
      .trim()
      .split('\n')
      .map((l) => JSON.parse(l) as { cut: string; kind: string });
    expect(new Set(paths.map((p) => p.cut))).toEqual(new Set(r.cuts.map((c) => c.id)));
    expect(new Set(paths.map((p) => p.kind))).toEqual(new Set(['cut', 'hop']));
    expect(readFileSync(path.join(out, 'unrolled.svg'), 'utf8')).toContain('id="passes"');
  });

  it('ends with 2 and one line a problem, with JSON paths, for a job that does not validate', () => {
    const job = { ...carveJob('x'), name: '', blank: { ...carveJob('x').blank, diameterMm: 0 } };
    const { status, stderr } = hobel('plan', file('bad.json', job), '--out', path.join(dir, 'bad'));
    expect(status).toBe(2);
    const lines = stderr.trim().split('\n');
    expect(lines.every((l) => l.startsWith('$.'))).toBe(true);
    expect(stderr).toContain('$.blank.diameterMm: ');
    expect(existsSync(path.join(dir, 'bad'))).toBe(false);
  });

  it.each([
    ['no JSON', '{'],
    ['a newer version', { ...carveJob('x'), version: JOB_VERSION + 1 }],
    ['an empty file', ''],
  ])('ends with 2 for %s', (name, value) => {
    const { status, stderr } = hobel('plan', file(`${name.replace(/ /g, '-')}.json`, value), '--out', path.join(dir, 'none'));
    expect(status).toBe(2);
    expect(stderr.startsWith('$')).toBe(true);
  });

  it('ends with 2 for a file that is not there, and says so', () => {
    const { status, stderr } = hobel('plan', path.join(dir, 'nothing.json'), '--out', dir);
    expect(status).toBe(2);
    expect(stderr.trim()).toBe(`${path.join(dir, 'nothing.json')}: there is no such file`);
  });

  it('ends with 3 and holds back the program when a finding would spoil the piece, unless it is accepted', () => {
    const job = file('mirror.json', carveJob('R', { words: { mirrored: true } }));
    const out = path.join(dir, 'mirror');
    expect(hobel('plan', job, '--out', out, '--accept', 'mirrored').status).toBe(0);
    expect(existsSync(path.join(out, 'program.nc'))).toBe(true);
    const { status, stderr } = hobel('plan', job, '--out', out);
    expect(status).toBe(3);
    expect(stderr).toContain('mirrored');
    expect(report(out).findings.map((f) => f.code)).toContain('mirrored');
    // Nor may the one from before lie there as if it were proven.
    expect(existsSync(path.join(out, 'program.nc'))).toBe(false);
    expect(hobel('plan', job, '--out', out, '--accept', 'off-blank').status).toBe(3);
  });

  it('takes a font by its path beside the job, and names one that is none', () => {
    copyFileSync('resources/fonts/ZillaSlab_700Bold.ttf', path.join(dir, 'own.ttf'));
    const withFont = (name: string) => ({
      ...carveJob('OWN'),
      inscriptions: [{ ...carveJob('OWN').inscriptions[0]!, font: { file: name } }],
    });
    expect(hobel('plan', file('own.json', withFont('./own.ttf')), '--out', path.join(dir, 'own')).status).toBe(0);
    file('broken.ttf', 'no font');
    for (const name of ['./broken.ttf', './missing.ttf']) {
      const { status, stderr } = hobel('plan', file('broken.json', withFont(name)), '--out', path.join(dir, 'broken'));
      expect(status).toBe(3);
      expect(stderr).toContain('font-missing');
      expect(stderr).toContain(name);
    }
  });

  it('says in a line that the folder cannot be written, and makes those above it where it can', () => {
    const job = file('fine.json', lineJob('I'));
    const { status, stderr } = hobel('plan', job, '--out', file('a-file', 'x'));
    expect(status).toBe(1);
    expect(stderr.trim().split('\n').at(-1)).toContain('a-file');
    expect(stderr).not.toContain('    at ');
    // A file system that takes no folders (regression: it spun for ever).
    expect(hobel('plan', job, '--out', '/proc/nope/deeper').status).toBe(1);
    expect(hobel('plan', job, '--out', path.join(dir, 'a', 'b', 'c')).status).toBe(0);
  });

  it('says what an unknown code of --accept is', () => {
    const { status, stderr } = hobel('plan', file('ok.json', lineJob('I')), '--out', path.join(dir, 'ok'), '--accept', 'mirorred');
    expect(status).toBe(2);
    expect(stderr).toContain('mirorred');
  });
});

describe('hobel schema and example', () => {
  it('suggests sets of cuts, writes the job with the best, and plans a trial', () => {
    const { cuts, ...rest } = carveJob('HOB', { words: { heightMm: 8 } });
    const job = file('plain.json', { ...rest, cuts: [], trials: [{ id: 'other', name: 'Other', cuts }] });
    const out = path.join(dir, 'suggested');
    expect(hobel('suggest', job, '--out', out).status).toBe(0);
    const list = JSON.parse(readFileSync(path.join(out, 'suggest.json'), 'utf8')) as {
      timeS: number;
      best: boolean;
      maxOutsideUm: number | null;
    }[];
    expect(list.length).toBeGreaterThan(2);
    expect(list.some((s) => s.best)).toBe(true);
    // A pocket has no edge that is measured along its path.
    for (const s of list) expect(s.maxOutsideUm ?? 0).toBeLessThan(2);
    expect(list.filter((s) => s.maxOutsideUm !== null).length).toBeGreaterThan(2);
    const planned = hobel('plan', path.join(out, 'job.json'), '--out', out);
    expect(planned.stderr).not.toContain('spoils');
    expect(hobel('plan', job, '--out', out, '--trial', 'other').status).toBe(0);
    expect(report(out).cuts[0]).toMatchObject({ id: 'carve', tools: ['cutter'] });
    expect(hobel('plan', job, '--out', out, '--trial', 'none').stderr).toContain('there is other');
  }, 60_000);

  it('prints a JSON Schema and lists the demo jobs', () => {
    expect(JSON.parse(hobel('schema').stdout)).toMatchObject({ type: 'object' });
    expect(hobel('example').stdout.split('\n')).toContain('rain-gauge');
    expect(hobel('example', 'no-such').status).toBe(2);
  });
});

describe('hobel prove', () => {
  const job = () => file('prove.json', carveJob('HOB', { words: { heightMm: 5 }, carve: { maxDepthMm: 1 } }));
  const proofOf = (out: string) => JSON.parse(readFileSync(path.join(out, 'proof.json'), 'utf8')) as ProofReport;

  it('runs the program on the blank and writes what it leaves, a depth map and a solid', () => {
    const out = path.join(dir, 'proved');
    const { status, stderr } = hobel('prove', job(), '--out', out, '--cell', '0.03', '--stl', '--png');
    expect(stderr).toBe('');
    expect(status).toBe(0);
    const proof = proofOf(out);
    expect(proof.cellMm).toBe(0.03);
    expect(proof.dangers).toEqual([]);
    expect(proof.edge!.uncut95Um).toBeLessThan(3);
    expect(proof.letters.map((l) => l.text).sort()).toEqual(['B', 'H', 'O']);
    expect(proof.volumeMm3).toBeGreaterThan(1);
    expect(proof.timeS.cutting).toBeGreaterThan(proof.timeS.air);
    const png = decode(readFileSync(path.join(out, 'depth.png')));
    expect([png.width, png.height, png.depth, png.channels]).toEqual([proof.depth!.widthCells, proof.depth!.heightCells, 16, 1]);
    expect(Math.max(...png.data.slice(0, 400_000))).toBeGreaterThan(0);
    for (const name of ['patch.stl', 'piece.stl', 'piece.png']) expect(existsSync(path.join(out, name)), name).toBe(true);
    expect(proof.timeS.perCut).toEqual([{ cut: 'V-carve', tool: 'cutter', seconds: expect.any(Number) as number }]);
  });

  it('ends with 3 for a program that would spoil the piece, and names the line', () => {
    const nc = file('rapid.nc', 'G21 G90\nG0 Z40\nG0 X20 Y0 A0\nM3 S9000\nG1 Z19.5 F100\nG0 X30\nG0 Z40\nM5\nM2\n');
    const out = path.join(dir, 'spoiled');
    const { status, stderr } = hobel('prove', job(), '--out', out, '--program', nc);
    expect(status).toBe(3);
    expect(stderr).toContain('spoils rapid-cuts');
    expect(proofOf(out).dangers.find((d) => d.code === 'rapid-cuts')!.line).toBe(6);
  });

  it.each([
    ['a cell of no size', ['--cell', '0'], /size of a cell/],
    ['cells that need too much memory', ['--cell', '0.0002'], /finest that fit are/],
    ['a program that moves nothing', ['--program', 'empty.nc'], /moves nothing/],
    ['a program that is not there', ['--program', 'none.nc'], /none\.nc/],
  ])('ends with an error for %s', (_, args, says) => {
    const empty = file('empty.nc', '(nothing)\nM2\n');
    const own = args.map((a) => (a === 'empty.nc' ? empty : a));
    const { status, stderr } = hobel('prove', job(), '--out', path.join(dir, 'refused'), ...own);
    expect(status).toBeGreaterThan(0);
    expect(stderr).toMatch(says);
  });
});

describe('hobel post and sheet', () => {
  const job = () => file('post.json', carveJob('HOB'));
  it('posts for another dialect, unit and machine than the job is for', () => {
    const out = path.join(dir, 'posted');
    const machine = file('machine.json', { ...carveJob('x').machine, name: 'Other', lengthDigits: 3 });
    const { status } = hobel('post', job(), '--out', out, '--machine', machine, '--dialect', 'iso6983', '--unit', 'in', '--dry', '20');
    expect(status).toBe(0);
    const text = readFileSync(path.join(out, 'program.nc'), 'utf8');
    expect(text.split('\n').slice(0, 3)).toEqual(['%', 'N1 G70', 'N2 G90']);
    expect(text).toMatch(/M30\n%\n$/);
    // Ø 40 with its zero on the axis: the surface lies at 20 mm, and the first stroke below it.
    const z = [...text.matchAll(/Z(-?[\d.]+)/g)].map((m) => Number(m[1]));
    expect(Math.min(...z)).toBeGreaterThan(19 / 25.4);
    expect(Math.min(...z)).toBeLessThan(20 / 25.4);
    const dry = readFileSync(path.join(out, 'program-dry.nc'), 'utf8');
    expect(Math.min(...[...dry.matchAll(/Z(-?[\d.]+)/g)].map((m) => Number(m[1])))).toBeCloseTo(Math.min(...z) + 20 / 25.4, 4);
    expect(dry).not.toMatch(/M3\b/);
  });

  it.each([
    ['a dialect that is not there', ['--dialect', 'latin'], 2, /--dialect: there is rs274, iso6983, short-lines/],
    ['a machine that is not there', ['--machine', 'bench'], 2, /^--machine: bench is no file, and no machine that ships; .*bench-rotary/],
    ['a machine that is none', ['--machine', 'bad-machine.json'], 2, /bad-machine\.json: \$\./],
    ['what the dialect cannot say', ['--machine', 'changer.json', '--dialect', 'short-lines'], 3, /has no words for a change of cutter/],
  ])('refuses %s, and writes nothing', (name, args, code, says) => {
    const files: Record<string, string> = {
      'bad-machine.json': file('bad-machine.json', { name: 'none' }),
      'changer.json': file('changer.json', { ...carveJob('x').machine, toolChanger: true }),
    };
    const out = path.join(dir, `post-${name.replace(/ /g, '-')}`);
    const { status, stderr } = hobel('post', job(), '--out', out, ...args.map((a) => files[a] ?? a));
    expect(status).toBe(code);
    expect(stderr).toMatch(says);
    expect(existsSync(path.join(out, 'program.nc'))).toBe(false);
  });

  it('writes no dry run that is lifted over the top of the machine, and says by how much', () => {
    const base = carveJob('BOW');
    const low = file('low.json', { ...base, machine: { ...base.machine, standsAt: { xMm: null, yMm: null, noseMm: 110 } } });
    const out = path.join(dir, 'low');
    expect(hobel('post', low, '--out', out, '--dry', '5').status).toBe(0);
    const { status, stderr } = hobel('post', low, '--out', path.join(dir, 'high'), '--dry', '20');
    expect([status, stderr]).toEqual([2, expect.stringMatching(/--dry: lifted by 20 mm .* would have to be \d+\.\d mm over the top/)]);
    expect([existsSync(path.join(out, 'program-dry.nc')), existsSync(path.join(dir, 'high', 'program-dry.nc'))]).toEqual([true, false]);
  });

  it('begins at a stroke of one of several files, and wants to be told of which', () => {
    const base = carveJob('BOW');
    const several = file('several.json', { ...base, machine: { ...base.machine, mostLines: 600 } });
    const out = path.join(dir, 'several');
    expect(hobel('post', several, '--out', out, '--from', '300').stderr).toMatch(/--from: the program has \d files: say which/);
    expect(hobel('post', several, '--out', out, '--from', '9:300').stderr).toContain('--from: there is no file 9');
    expect(hobel('post', several, '--out', out, '--from', '1:300').status).toBe(0);
    expect(readFileSync(path.join(out, 'program-1-from-line-300.nc'), 'utf8').split('\n').length).toBeLessThan(400);
  });

  it('begins at a stroke of the whole program, and says where there is none', () => {
    const job = file('from.json', carveJob('BOW'));
    const out = path.join(dir, 'from');
    expect(hobel('post', job, '--out', out, '--from', '300').status).toBe(0);
    const lines = readFileSync(path.join(out, 'program-from-line-300.nc'), 'utf8').split('\n');
    expect(lines.find((l) => l.startsWith('G0'))).toMatch(/^G0 Z/);
    const refused = hobel('post', job, '--out', path.join(dir, 'from-none'), '--from', '2');
    expect(refused.status).toBe(2);
    expect(refused.stderr).toContain('--from: give a line of the program after its first stroke');
  });

  it('writes a paper in true size, or says why there is none', () => {
    const out = path.join(dir, 'wrap.pdf');
    expect(hobel('wrap', file('wrap.json', carveJob('BOW')), '--out', out).status).toBe(0);
    expect(readFileSync(out, 'latin1').slice(0, 5)).toBe('%PDF-');
    const turned = { ...carveJob('BOW'), blank: createBlank('turned') };
    const refused = hobel('wrap', file('turned.json', turned), '--out', out);
    expect([refused.status, refused.stderr]).toEqual([2, expect.stringContaining('cannot be laid flat')]);
  });

  it('writes the set-up sheet as a PDF', () => {
    const out = path.join(dir, 'sheets', 'set-up.pdf');
    expect(hobel('sheet', job(), '--out', out).status).toBe(0);
    expect(readFileSync(out, 'latin1').slice(0, 5)).toBe('%PDF-');
  });
});

describe('hobel probe', () => {
  const job = file('probe-job.json', lineJob('IT', { depthMm: 0.3 }, { measured: null }));
  const out = path.join(dir, 'touch.nc');
  const placesOf = (text: string) => new Set([...text.matchAll(/^(?:G0 )?X(-?[\d.]+)/gm)].map((m) => Number(m[1])));

  it('touches all of the blank, or what is under the lettering, and takes the log into the job', () => {
    expect(hobel('probe', job, '--grid', '2x4', '--out', out)).toMatchObject({
      status: 0,
      stderr: expect.stringMatching(/^8 places in \d+ s at the most, read back without a fault\n$/) as string,
    });
    expect(placesOf(readFileSync(out, 'utf8'))).toEqual(new Set([3, 77]));
    expect(hobel('probe', job, '--grid', '2x4', '--under-lettering', '--out', out).status).toBe(0);
    const [least, most] = [...placesOf(readFileSync(out, 'utf8'))].sort((a, b) => a - b) as [number, number];
    expect(least).toBeGreaterThan(10);
    expect(most).toBeLessThan(70);
    // Touched 0.1 mm out of the drawn one all round, on a blank that turns a place at a time.
    const log = file('log.txt', [3, 77].flatMap((x) => [-180, -90, 0, 90].map((a) => `X${x} Y0 Z20.1 A${a}`)).join('\n'));
    const taken = path.join(dir, 'measured.json');
    const { status, stderr } = hobel('probe', job, '--grid', '2x4', '--touches', log, '--ball', '2', '--out', taken);
    expect([status, stderr]).toEqual([0, expect.stringMatching(/Its diameter is 40\.200 mm, not 40\.000 mm/)]);
    const { measured } = JSON.parse(readFileSync(taken, 'utf8')) as Job;
    expect(measured!.mm.flat().every((v) => Math.abs(v - 0.1) < 1e-9)).toBe(true);
  });

  it('that would leave the machine is refused, with the axis and how far', () => {
    const machine = { ...lineJob('IT', {}).machine, travelMm: { X: 60, Y: 0, Z: 0 } };
    const short = file('short.json', lineJob('IT', { depthMm: 0.3 }, { machine }));
    const { status, stderr } = hobel('probe', short, '--grid', '2x4', '--out', path.join(dir, 'none.nc'));
    expect([status, stderr]).toEqual([2, expect.stringMatching(/is more than the machine can do: X goes from 3\.0 to 77\.0 mm/)]);
    expect(existsSync(path.join(dir, 'none.nc'))).toBe(false);
  });
});
