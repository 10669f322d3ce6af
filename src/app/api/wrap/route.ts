import { NextResponse } from 'next/server';
import { z } from 'zod';
import { guarded, readForm } from '../../../server/answers';
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
    const read = await readForm(request, bodySchema, 'No paper can be made of this');
    if ('answer' in read) return read.answer;
    const { title, ...wrap } = read.value;
    const pdf = await renderPaperWrap(wrap, title);
    return new NextResponse(Buffer.from(pdf), { headers: { 'Content-Type': 'application/pdf' } });
  });
