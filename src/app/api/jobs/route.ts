import { NextResponse } from 'next/server';
import { answerProblem, guarded, readBody } from '../../../server/answers';
import { createJobRow, listJobs } from '../../../server/jobs';
import { openShop } from '../../../server/shop';

export const dynamic = 'force-dynamic';

export const GET = () => guarded(() => NextResponse.json(listJobs(openShop())));

export const POST = (request: Request) =>
  guarded(async () => {
    const body = await readBody(request);
    if ('answer' in body) return body.answer;
    const made = createJobRow(openShop(), body.value, '', Date.now());
    if (made.ok) return NextResponse.json(made.value, { status: 201 });
    return answerProblem(422, { error: made.error.kind, text: 'This is no job that Hobel can open', problems: made.error.problems });
  });
