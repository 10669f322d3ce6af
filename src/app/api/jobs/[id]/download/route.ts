import { NextResponse } from 'next/server';
import { z } from 'zod';
import { machineSchema } from '../../../../../core/job/schema';
import { answerProblem, guarded, readBody } from '../../../../../server/answers';
import { keepDownload, readDownload } from '../../../../../server/downloads';
import { openShop } from '../../../../../server/shop';

export const dynamic = 'force-dynamic';
type Context = { params: Promise<{ id: string }> };

const MAX_FILES = 1000;
const bodySchema = z.strictObject({
  facts: z.strictObject({ machine: machineSchema, fonts: z.record(z.string().max(200), z.string().max(64)) }),
  files: z.array(z.strictObject({ name: z.string().max(200), text: z.string() })).max(MAX_FILES),
});

/** The program that was downloaded last, or null. */
export const GET = (_request: Request, { params }: Context) =>
  guarded(async () => NextResponse.json(readDownload(openShop(), (await params).id)));

/** Keeps the program that has just left. */
export const PUT = (request: Request, { params }: Context) =>
  guarded(async () => {
    const body = await readBody(request);
    if ('answer' in body) return body.answer;
    const parsed = bodySchema.safeParse(body.value);
    if (!parsed.success) return answerProblem(400, { error: 'badRequest', text: 'A download has facts and files' });
    const kept = keepDownload(openShop(), (await params).id, { savedAt: Date.now(), ...parsed.data });
    return kept
      ? NextResponse.json({ ok: true })
      : answerProblem(404, { error: 'notFound', text: 'This job is not on the Shelf any more' });
  });
