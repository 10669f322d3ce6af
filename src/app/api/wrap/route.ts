import { NextResponse } from 'next/server';
import { z } from 'zod';
import { toJsonPath } from '../../../core/job/parse';
import { answerProblem, guarded, readBody } from '../../../server/answers';
import { renderPaperWrap } from '../../../server/resources/setupPdf';

export const dynamic = 'force-dynamic';

const MAX_DRAWING = 16_000_000;
const sideMm = z.number().positive().max(6000);
const bodySchema = z.strictObject({
  svg: z.string().startsWith('<svg').max(MAX_DRAWING),
  widthMm: sideMm,
  heightMm: sideMm,
  title: z.string().max(200),
});

/** Sets a drawing in true size that is to be wrapped round the blank. */
export const POST = (request: Request) =>
  guarded(async () => {
    const body = await readBody(request);
    if ('answer' in body) return body.answer;
    const parsed = bodySchema.safeParse(body.value);
    if (!parsed.success) {
      const problems = parsed.error.issues.map((i) => ({ path: toJsonPath(i.path), text: i.message }));
      return answerProblem(422, { error: 'invalid', text: 'No paper can be made of this', problems });
    }
    const { title, ...wrap } = parsed.data;
    const pdf = await renderPaperWrap(wrap, title);
    return new NextResponse(Buffer.from(pdf), { headers: { 'Content-Type': 'application/pdf' } });
  });
