import { NextResponse } from 'next/server';
import { answerProblem, guarded } from '../../../../server/answers';
import { readShapeBytes } from '../../../../server/shapes';
import { openShop } from '../../../../server/shop';

export const dynamic = 'force-dynamic';
type Context = { params: Promise<{ id: string }> };

/** The packed bytes of a shape. They are named by their hash and never change. */
export const GET = (_request: Request, { params }: Context) =>
  guarded(async () => {
    const bytes = readShapeBytes(openShop(), (await params).id);
    if (!bytes) return answerProblem(404, { error: 'notFound', text: 'This shape is not here' });
    return new NextResponse(new Uint8Array(bytes), {
      headers: { 'content-type': 'application/octet-stream', 'cache-control': 'public, max-age=31536000, immutable' },
    });
  });
