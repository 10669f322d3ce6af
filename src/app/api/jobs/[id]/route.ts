import { NextResponse } from 'next/server';
import { z } from 'zod';
import { answerProblem, guarded, readBody } from '../../../../server/answers';
import { deleteJob, readJob, saveJob } from '../../../../server/jobs';
import { openShop } from '../../../../server/shop';

export const dynamic = 'force-dynamic';
type Context = { params: Promise<{ id: string }> };

const saveSchema = z.object({ baseRevision: z.int().min(1), job: z.unknown(), preview: z.string().max(400_000) });
const notFound = () => answerProblem(404, { error: 'notFound', text: 'This job is not on the Shelf any more' });

export const GET = (_request: Request, { params }: Context) =>
  guarded(async () => {
    const found = readJob(openShop(), (await params).id);
    if (found.ok) return NextResponse.json(found.value);
    if (found.error.kind === 'notFound') return notFound();
    return answerProblem(422, { error: found.error.kind, text: 'The stored job cannot be opened', problems: found.error.problems });
  });

export const PUT = (request: Request, { params }: Context) =>
  guarded(async () => {
    const body = await readBody(request);
    if ('answer' in body) return body.answer;
    const parsed = saveSchema.safeParse(body.value);
    if (!parsed.success) return answerProblem(400, { error: 'badRequest', text: 'A save needs baseRevision, job and preview' });
    const { baseRevision, job, preview } = parsed.data;
    const saved = saveJob(openShop(), (await params).id, baseRevision, job, preview, Date.now());
    if (saved.ok) return NextResponse.json({ revision: saved.value.revision });
    if (saved.error.kind === 'notFound') return notFound();
    if (saved.error.kind === 'conflict') return NextResponse.json({ error: 'conflict', current: saved.error.current }, { status: 409 });
    return answerProblem(422, { error: saved.error.kind, text: 'The job was not saved', problems: saved.error.problems });
  });

export const DELETE = (_request: Request, { params }: Context) =>
  guarded(async () => (deleteJob(openShop(), (await params).id) ? NextResponse.json({ ok: true }) : notFound()));
