import { NextResponse } from 'next/server';
import { answerProblem, guarded, readBytes } from '../../../server/answers';
import { describeShapeRefusal, keepShape, MAX_PACKED_BYTES } from '../../../server/shapes';
import { openShop } from '../../../server/shop';

export const dynamic = 'force-dynamic';

/** Keeps a packed shape, given as the body; its name comes in `?name=`. */
export const POST = (request: Request) =>
  guarded(async () => {
    const name = (new URL(request.url).searchParams.get('name') ?? 'shape').slice(0, 200);
    const read = await readBytes(request, MAX_PACKED_BYTES);
    if ('overBytes' in read)
      return answerProblem(413, {
        error: 'tooLarge',
        text: `A shape may take ${MAX_PACKED_BYTES / 1e6} MB`,
        remedy: 'Export it with a coarser chord tolerance',
      });
    const made = keepShape(openShop(), name, read.bytes, Date.now());
    return made.ok
      ? NextResponse.json(made.value, { status: 201 })
      : answerProblem(422, { error: made.error.kind, text: describeShapeRefusal(made.error) });
  });
