import { NextResponse } from 'next/server';
import { answerProblem, guarded } from '../../../server/answers';
import { readShippedFile } from '../../../server/resources/files';

type Context = { params: Promise<{ path: string[] }> };

/** The fonts and compiled modules that the browser's workers load. */
export const GET = (_request: Request, { params }: Context) =>
  guarded(async () => {
    const file = await readShippedFile((await params).path.join('/'));
    if (!file) return answerProblem(404, { error: 'notFound', text: 'There is no such file' });
    return new NextResponse(new Uint8Array(file.bytes), {
      headers: { 'content-type': file.type, 'cache-control': 'public, max-age=3600' },
    });
  });
