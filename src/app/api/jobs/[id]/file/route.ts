import { NextResponse } from 'next/server';
import { answerProblem, guarded } from '../../../../../server/answers';
import { readJob } from '../../../../../server/jobs';
import { openShop } from '../../../../../server/shop';

export const dynamic = 'force-dynamic';

/** The job as a file, for the command line or another Hobel. */
export const GET = (_request: Request, { params }: { params: Promise<{ id: string }> }) =>
  guarded(async () => {
    const found = readJob(openShop(), (await params).id);
    if (!found.ok) return answerProblem(404, { error: 'notFound', text: 'This job is not on the Shelf any more' });
    const name =
      found.value.job.name
        .normalize('NFKD')
        .replace(/[^A-Za-z0-9-]+/g, '-')
        .replace(/^-+|-+$/g, '')
        .toLowerCase() || 'job';
    return new NextResponse(`${JSON.stringify(found.value.job, null, 2)}\n`, {
      headers: { 'content-type': 'application/json', 'content-disposition': `attachment; filename="${name}.json"` },
    });
  });
