import { NextResponse } from 'next/server';
import { answerProblem, guarded } from '../../../../server/answers';
import { loadEngines } from '../../../../server/resources/engines';
import { openShop } from '../../../../server/shop';
import { listCharacters, listFontUses, readFont, removeFont } from '../../../../server/typeCase';

export const dynamic = 'force-dynamic';
type Context = { params: Promise<{ id: string }> };
const notFound = () => answerProblem(404, { error: 'notFound', text: 'This font is not in the type case' });

/** The font's file; with `?uses` the jobs that use it, with `?coverage` the code points it has. */
export const GET = (request: Request, { params }: Context) =>
  guarded(async () => {
    const { id } = await params;
    if (new URL(request.url).searchParams.has('uses')) return NextResponse.json(listFontUses(openShop(), id));
    if (new URL(request.url).searchParams.has('coverage')) {
      const codes = listCharacters(openShop(), await loadEngines(), id);
      return codes ? NextResponse.json(codes) : notFound();
    }
    const font = readFont(openShop(), id);
    if (!font) return notFound();
    return new NextResponse(new Uint8Array(font.bytes), {
      headers: {
        'content-type': font.kind === 'stroke' ? 'application/json' : 'font/ttf',
        'x-font-kind': font.kind,
        'x-font-sha256': font.sha256,
        'cache-control': 'no-cache',
      },
    });
  });

export const DELETE = (_request: Request, { params }: Context) =>
  guarded(async () => (removeFont(openShop(), (await params).id) ? NextResponse.json({ ok: true }) : notFound()));
