import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { beforeAll, describe, expect, it } from 'vitest';
import { carveJob } from '../../../tests/support';
import { JOB_VERSION } from '../../core/job/schema';
import { MAX_BODY_BYTES } from '../../server/answers';

process.env.HOBEL_DATA = mkdtempSync(path.join(tmpdir(), 'hobel-api-'));
// Nothing listens there.
process.env.HOBEL_RUNNER_PORT = '1';
type Handler = (request: Request, context: { params: Promise<{ id: string }> }) => Promise<Response>;
type Routes = Record<'GET' | 'POST' | 'PUT' | 'DELETE', Handler>;
let jobs: Routes,
  job: Routes,
  file: Routes,
  tools: Routes,
  machines: Routes,
  fonts: Routes,
  font: Routes,
  sheets: Routes,
  downloads: Routes,
  runner: Routes;
beforeAll(async () => {
  const load = async (module: Promise<unknown>) => (await module) as Routes;
  [jobs, job, file, tools, machines, fonts, font, sheets, downloads, runner] = await Promise.all([
    load(import('./jobs/route')),
    load(import('./jobs/[id]/route')),
    load(import('./jobs/[id]/file/route')),
    load(import('./tools/route')),
    load(import('./machines/route')),
    load(import('./fonts/route')),
    load(import('./fonts/[id]/route')),
    load(import('./sheet/route')),
    load(import('./jobs/[id]/download/route')),
    load(import('./runner/route')),
  ]);
});
const ask = async (handler: Handler, body?: unknown, id = '', query = '') => {
  const request = new Request(
    `http://x/${query}`,
    body === undefined
      ? {}
      : { method: 'POST', body: body instanceof Uint8Array || typeof body === 'string' ? (body as BodyInit) : JSON.stringify(body) },
  );
  const answer = await handler(request, { params: Promise.resolve({ id }) });
  const text = await answer.text();
  return {
    status: answer.status,
    headers: answer.headers,
    body: (text.startsWith('{') || text.startsWith('[') ? JSON.parse(text) : text) as Record<string, unknown>,
  };
};
const create = async (text = 'ONE') => (await ask(jobs.POST, carveJob(text))).body.id as string;

describe('jobs', () => {
  it('are made, listed, read, saved and removed', async () => {
    const id = await create();
    expect(((await ask(jobs.GET)).body as unknown as { id: string }[]).map((j) => j.id)).toContain(id);
    expect((await ask(job.PUT, { baseRevision: 1, job: carveJob('TWO'), preview: '' }, id)).body).toEqual({ revision: 2 });
    expect((await ask(job.GET, undefined, id)).body).toMatchObject({ revision: 2 });
    expect((await ask(job.DELETE, undefined, id)).status).toBe(200);
    expect((await ask(job.GET, undefined, id)).status).toBe(404);
  });

  it('keep the program that was downloaded last, in place of the one before, and lose it with the job', async () => {
    const id = await create();
    const { machine } = carveJob('x');
    const facts = { machine, fonts: { cinzel: 'abc' } };
    expect((await ask(downloads.GET, undefined, id)).body).toBe('null');
    for (const text of ['G0 X1\n', 'G0 X2\n'])
      expect((await ask(downloads.PUT, { facts, files: [{ name: 'a.nc', text }] }, id)).status).toBe(200);
    const kept = (await ask(downloads.GET, undefined, id)).body;
    expect(kept).toMatchObject({ facts, files: [{ name: 'a.nc', text: 'G0 X2\n' }] });
    for (const bad of [{}, { facts, files: 'x' }, { facts: { machine: {}, fonts: {} }, files: [] }])
      expect((await ask(downloads.PUT, bad, id)).status).toBe(400);
    expect((await ask(downloads.PUT, { facts, files: [] }, 'gone')).status).toBe(404);
    await ask(job.DELETE, undefined, id);
    expect((await ask(downloads.GET, undefined, id)).body).toBe('null');
  });

  it('answer a save on an old revision with what is there', async () => {
    const id = await create();
    await ask(job.PUT, { baseRevision: 1, job: carveJob('THEIRS'), preview: '' }, id);
    const late = await ask(job.PUT, { baseRevision: 1, job: carveJob('MINE'), preview: '' }, id);
    expect(late.status).toBe(409);
    expect(JSON.stringify(late.body)).toContain('THEIRS');
  });

  it('refuse what is no job with every problem and its path', async () => {
    const bad = await ask(jobs.POST, { ...carveJob('x'), name: '', blank: { ...carveJob('x').blank, diameterMm: -1 } });
    expect(bad.status).toBe(422);
    expect((bad.body.problems as { path: string }[]).map((p) => p.path)).toEqual(expect.arrayContaining(['$.name', '$.blank.diameterMm']));
    for (const body of ['{', '', '[]', 'null', '"x"']) expect((await ask(jobs.POST, body)).status).toBeGreaterThanOrEqual(400);
    expect((await ask(jobs.POST, { ...carveJob('x'), version: JOB_VERSION + 1 })).body.error).toBe('newerVersion');
    expect((await ask(jobs.POST, 'x'.repeat(MAX_BODY_BYTES + 1))).status).toBe(413);
    const id = await create();
    for (const body of [{}, { baseRevision: 0 }, { baseRevision: 'one', job: 1, preview: '' }])
      expect((await ask(job.PUT, body, id)).status).toBe(400);
    expect((await ask(job.PUT, { baseRevision: 1, job: {}, preview: '' }, id)).status).toBe(422);
    expect((await ask(job.PUT, { baseRevision: 1, job: carveJob('x'), preview: '' }, 'gone')).status).toBe(404);
    expect((await ask(job.DELETE, undefined, 'gone')).status).toBe(404);
  });

  it('go out as a file that comes in again', async () => {
    const id = await create('FILED');
    const out = await ask(file.GET, undefined, id);
    expect(out.headers.get('content-disposition')).toContain('test-piece.json');
    expect((await ask(jobs.POST, out.body)).status).toBe(201);
    expect((await ask(file.GET, undefined, 'gone')).status).toBe(404);
  });
});

describe('tools and machines', () => {
  it('are listed, changed, refused and removed', async () => {
    for (const [routes, wrong] of [
      [tools, { includedDeg: 500 }],
      [machines, { sense: 2 }],
    ] as const) {
      const list = (await ask(routes.GET)).body as unknown as { id: string; name: string }[];
      expect(list.length).toBeGreaterThan(1);
      expect((await ask(routes.PUT, { ...list[0], name: 'Renamed' })).body.name).toBe('Renamed');
      const bad = await ask(routes.PUT, { ...list[0], ...wrong });
      expect(bad.status).toBe(422);
      expect((bad.body.problems as unknown[]).length).toBe(1);
      expect((await ask(routes.DELETE, undefined, '', `?id=${list[0]!.id}`)).body.ok).toBe(true);
      expect((await ask(routes.DELETE, undefined, '', '?id=gone')).body.ok).toBe(false);
    }
  });
});

describe('the crib', () => {
  it('refuses a number that another cutter has, and says whose it is', async () => {
    const [a, b] = (await ask(tools.GET)).body as unknown as { name: string; number: number }[];
    const bad = await ask(tools.PUT, { ...b, number: a!.number });
    expect(bad.status).toBe(409);
    expect(JSON.stringify(bad.body)).toContain(a!.name);
    expect((await ask(tools.PUT, { ...b, name: 'Renamed' })).status).toBe(200);
    expect((await ask(tools.PUT, { ...a, id: 'new', number: a!.number })).status).toBe(409);
  });
});

describe('the set-up sheet', () => {
  const figures = {
    ...{
      job: 'Gauge',
      notes: '',
      material: 'brass',
      machine: 'Mill',
      dialect: 'RS274/NGC',
      unit: 'mm',
      blank: 'Ø 42',
      zero: ['X'],
      heights: 'low',
      onMachine: '<svg width="1" height="1"></svg>',
    },
    ...{ files: [{ name: 'gauge.nc', lines: 12 }], tools: [], axes: [], checks: [], timeS: 61, standingS: 0 },
    ...{ readBackUm: 0.1, edgeOutsideUm: null },
  };
  it('is set from figures and a drawing', async () => {
    const { status, headers, body } = await ask(sheets.POST, {
      sheet: figures,
      drawing: '<svg width="1" height="1"></svg>',
      picture: null,
      job: {},
    });
    expect(status).toBe(200);
    expect(headers.get('content-type')).toBe('application/pdf');
    expect(String(body).slice(0, 5)).toBe('%PDF-');
  });
  it('is refused with the place where the figures are none', async () => {
    const bad = { sheet: { ...figures, timeS: 'long' }, drawing: 'no drawing', picture: null, job: {} };
    const { status, body } = await ask(sheets.POST, bad);
    expect(status).toBe(422);
    expect((body.problems as { path: string }[]).map((p) => p.path)).toEqual(['$.sheet.timeS', '$.drawing']);
  });
});

describe('fonts', () => {
  it('are listed and handed out with their kind and hash', async () => {
    const list = (await ask(fonts.GET)).body as unknown as { id: string; kind: string; sha256: string }[];
    for (const id of ['cinzel-bold', 'hershey-sans']) {
      const card = list.find((f) => f.id === id)!;
      const answer = await ask(font.GET, undefined, id);
      expect(answer.headers.get('x-font-kind')).toBe(card.kind);
      expect(answer.headers.get('x-font-sha256')).toBe(card.sha256);
    }
    expect(((await ask(font.GET, undefined, 'cinzel-bold', '?coverage')).body as unknown as number[]).includes(0x51)).toBe(true);
    expect((await ask(font.GET, undefined, 'gone')).status).toBe(404);
    expect((await ask(font.GET, undefined, 'gone', '?coverage')).status).toBe(404);
  });
  it('are refused by name where they are none, and while they stream in where they are too large', async () => {
    expect((await ask(fonts.POST, 'not a font at all', '', '?name=notes.ttf')).body.text).toContain('notes.ttf is no font');
    const large = await ask(fonts.POST, new Uint8Array(33 * 1024 * 1024), '', '?name=huge.ttf');
    expect(large.status).toBe(413);
    expect(large.body.text).toContain('huge.ttf has 33 MB');
  });
  it('that ship are not removed', async () => expect((await ask(font.DELETE, undefined, 'cinzel-bold')).status).toBe(404));
});

describe('the simulated machine', () => {
  const { machine, blank, zero } = carveJob('x');
  const feed = (text: string) => ask(runner.POST, { do: 'feed', name: 'long.nc', text, setup: { machine, blank, zero, gaugeMm: 40 } });

  it('is fed programs far longer than a job may be; where it is not there that is said, and so is what is too long', async () => {
    const long = await feed('G1 X1.2345 A6.7890 F100.\n'.repeat((1.2 * MAX_BODY_BYTES) / 25));
    expect(long.status).toBe(409);
    expect(long.body.text).toContain('nothing answers on port 1');
    const over = await feed('x'.repeat(67_000_000));
    expect([over.status, over.body.text]).toEqual([413, expect.stringMatching(/^A program may take 6\d MB, this is 6\d/)]);
  });

  it('takes no order that is not its own', async () => {
    expect((await ask(runner.POST, { do: 'command', text: 'format c' })).status).toBe(422);
    expect((await ask(runner.POST, { do: 'command', text: 'hold\nstop' })).status).toBe(422);
    expect((await ask(runner.POST, { do: 'feed', name: 'x', text: 'M2', setup: {} })).status).toBe(422);
  });
});
