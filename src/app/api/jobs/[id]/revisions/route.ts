import { NextResponse } from 'next/server';
import { z } from 'zod';
import { answerProblem, guarded, readBody } from '../../../../../server/answers';
import { listRevisions, readRevisionPicture, takeBack } from '../../../../../server/jobs';
import { openShop } from '../../../../../server/shop';

export const dynamic = 'force-dynamic';
type Context = { params: Promise<{ id: string }> };

const takeSchema = z.object({ revision: z.int().min(1), baseRevision: z.int().min(1) });

/** The list, or with `?picture=7` the picture of one, as an image in which nothing can run. */
export const GET = (request: Request, { params }: Context) =>
  guarded(async () => {
    const { id } = await params;
    const picture = new URL(request.url).searchParams.get('picture');
    if (picture === null) return NextResponse.json(listRevisions(openShop(), id));
    const svg = readRevisionPicture(openShop(), id, Number(picture));
    if (!svg) return answerProblem(404, { error: 'notFound', text: 'No picture of this revision was kept' });
    const headers = {
      'content-type': 'image/svg+xml',
      'content-security-policy': "default-src 'none'; style-src 'unsafe-inline'; sandbox",
    };
    return new NextResponse(svg, { headers });
  });

/** Takes an earlier revision back: it becomes the newest, and nothing is lost. */
export const POST = (request: Request, { params }: Context) =>
  guarded(async () => {
    const body = await readBody(request);
    if ('answer' in body) return body.answer;
    const parsed = takeSchema.safeParse(body.value);
    if (!parsed.success) return answerProblem(400, { error: 'badRequest', text: 'Taking back needs revision and baseRevision' });
    const { revision, baseRevision } = parsed.data;
    const taken = takeBack(openShop(), (await params).id, revision, baseRevision, Date.now());
    if (taken.ok) return NextResponse.json({ revision: taken.value.revision });
    if (taken.error.kind === 'notFound') return answerProblem(404, { error: 'notFound', text: 'This revision is not kept any more' });
    if (taken.error.kind === 'conflict')
      return answerProblem(409, { error: 'conflict', text: 'The job was changed in the meantime', remedy: 'Load this page again' });
    return answerProblem(422, { error: taken.error.kind, text: 'The revision cannot be read', problems: taken.error.problems });
  });
