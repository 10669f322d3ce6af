import { NextResponse } from 'next/server';
import { z } from 'zod';
import { runnerSetupSchema } from '../../../core/runner/protocol';
import { answerProblem, guarded, readForm } from '../../../server/answers';
import { getRunnerLink } from '../../../server/runnerLink';
import { readShapeBytes } from '../../../server/shapes';
import { openShop } from '../../../server/shop';

export const dynamic = 'force-dynamic';

/** Longest program that is fed, characters; quoted as JSON it takes a little more. */
const MAX_TEXT = 60_000_000;
const MAX_FEED_BYTES = 1.1 * MAX_TEXT;
const COMMAND = /^(setup|shape|hold|resume|stop|home|reset|jog|zero|speed|fault|power) /;
const bodySchema = z.discriminatedUnion('do', [
  z.strictObject({
    do: z.literal('command'),
    text: z.string().regex(/^(hold|resume|stop|home|reset|jog|zero|speed|fault|power)\b[^\n]{0,80}$/),
  }),
  z.strictObject({ do: z.literal('feed'), name: z.string().max(200), text: z.string().max(MAX_TEXT), setup: runnerSetupSchema }),
  z.strictObject({ do: z.literal('start') }),
  z.strictObject({ do: z.literal('setup'), setup: runnerSetupSchema }),
]);

/** What the simulated machine tells, as it tells it: server-sent events, one JSON object each. */
export const GET = (request: Request) => {
  const link = getRunnerLink();
  const encoder = new TextEncoder();
  let leave: () => void = () => undefined;
  const stream = new ReadableStream<Uint8Array>({
    start(controller) {
      const send = (news: unknown): void => {
        try {
          controller.enqueue(encoder.encode(`data: ${JSON.stringify(news)}\n\n`));
        } catch {
          leave();
        }
      };
      leave = link.listen(send);
      send(link.news);
      request.signal.addEventListener('abort', () => {
        leave();
        try {
          controller.close();
        } catch {
          // It was closed by the reader.
        }
      });
    },
    cancel: () => leave(),
  });
  return new NextResponse(stream, { headers: { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store, no-transform' } });
};

/** Gives the simulated machine a command, or feeds it a program. */
export const POST = (request: Request) =>
  guarded(async () => {
    const read = await readForm(request, bodySchema, 'The simulated machine cannot take this', MAX_FEED_BYTES, 'A program');
    if ('answer' in read) return read.answer;
    const link = getRunnerLink();
    const own = read.value;
    if (own.do === 'start') {
      const why = await link.start();
      return why === null
        ? NextResponse.json({ answer: 'ok start' })
        : answerProblem(409, { error: 'runner', text: `The simulated machine does not start: ${why}` });
    }
    if (own.do === 'command' && /^(stop|reset|power)/.test(own.text)) link.dropFeed();
    const findShape = (id: string): Uint8Array | null => readShapeBytes(openShop(), id);
    const answer =
      own.do === 'feed'
        ? await link.feed(own.name, own.text, own.setup, findShape)
        : own.do === 'setup'
          ? await link.place(own.setup, findShape)
          : await link.command(own.text);
    if (answer.startsWith('no')) {
      // The machine's own refusals name the command first; what the connection says does not.
      const why = answer.replace(/^no /, '').replace(COMMAND, '');
      return answerProblem(409, { error: 'runner', text: `The simulated machine did not take it: ${why}` });
    }
    return NextResponse.json({ answer });
  });
