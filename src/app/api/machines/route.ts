import { NextResponse } from 'next/server';
import { machineSchema } from '../../../core/job/schema';
import { toJsonPath } from '../../../core/job/parse';
import { answerProblem, guarded, readBody } from '../../../server/answers';
import { deleteMachine, listMachines, putMachine } from '../../../server/crib';
import { openShop } from '../../../server/shop';

export const dynamic = 'force-dynamic';

export const GET = () => guarded(() => NextResponse.json(listMachines(openShop())));

export const PUT = (request: Request) =>
  guarded(async () => {
    const body = await readBody(request);
    if ('answer' in body) return body.answer;
    const parsed = machineSchema.safeParse(body.value);
    if (!parsed.success) {
      return answerProblem(422, {
        error: 'invalid',
        text: 'The machine was not kept',
        problems: parsed.error.issues.map((i) => ({ path: toJsonPath(i.path), text: i.message })),
      });
    }
    putMachine(openShop(), parsed.data);
    return NextResponse.json(parsed.data);
  });

export const DELETE = (request: Request) =>
  guarded(() => NextResponse.json({ ok: deleteMachine(openShop(), new URL(request.url).searchParams.get('id') ?? '') }));
