import { NextResponse } from 'next/server';
import { refuseNumber, toolSchema } from '../../../core/job/schema';
import { toJsonPath } from '../../../core/job/parse';
import { answerProblem, guarded, readBody } from '../../../server/answers';
import { deleteTool, listTools, putTool } from '../../../server/crib';
import { openShop } from '../../../server/shop';

export const dynamic = 'force-dynamic';

export const GET = () => guarded(() => NextResponse.json(listTools(openShop())));

export const PUT = (request: Request) =>
  guarded(async () => {
    const body = await readBody(request);
    if ('answer' in body) return body.answer;
    const parsed = toolSchema.safeParse(body.value);
    if (!parsed.success) {
      return answerProblem(422, {
        error: 'invalid',
        text: 'The tool was not kept',
        problems: parsed.error.issues.map((i) => ({ path: toJsonPath(i.path), text: i.message })),
      });
    }
    const db = openShop();
    const refusal = refuseNumber(listTools(db), parsed.data);
    if (refusal)
      return answerProblem(409, { error: 'numberTaken', text: 'The tool was not kept', problems: [{ path: '$.number', text: refusal }] });
    putTool(db, parsed.data);
    return NextResponse.json(parsed.data);
  });

export const DELETE = (request: Request) =>
  guarded(() => NextResponse.json({ ok: deleteTool(openShop(), new URL(request.url).searchParams.get('id') ?? '') }));
