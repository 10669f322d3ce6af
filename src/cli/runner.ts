import { createServer, type Socket } from 'node:net';
import { STATUS_HZ } from '../core/runner/protocol';
import type { RealBlank } from '../core/runner/realBlank';
import { SimulatedMachine } from '../core/runner/simulatedMachine';
import { createLineCutter } from '../core/runner/wire';

const TICK_MS = 5;

/** The simulated machine as a process of its own: it listens on loopback, and goes on while nobody is there. */
export function startRunner(port: number, real: RealBlank): Promise<{ port: number; close(): void }> {
  const machine = new SimulatedMachine(real, performance.now());
  const clients = new Set<Socket>();
  const tell = (lines: readonly string[]): void => {
    if (lines.length === 0) return;
    const text = `${lines.join('\n')}\n`;
    for (const client of clients) client.write(text);
  };
  const server = createServer((socket) => {
    socket.setEncoding('utf8');
    socket.setNoDelay(true);
    clients.add(socket);
    const cut = createLineCutter();
    socket.on('data', (chunk: string) => {
      const answers = cut(chunk).flatMap((line) => machine.handle(line, performance.now()));
      if (answers.length > 0) socket.write(`${answers.join('\n')}\n`);
    });
    const leave = (): void => void clients.delete(socket);
    socket.on('close', leave);
    socket.on('error', leave);
    socket.write(`hobel simulated machine\n${machine.tellStatus()}\n`);
  });
  const ticking = setInterval(() => tell(machine.tick(performance.now())), TICK_MS);
  const telling = setInterval(() => tell([machine.tellStatus()]), 1000 / STATUS_HZ);
  return new Promise((resolve, reject) => {
    const stop = (): void => {
      clearInterval(ticking);
      clearInterval(telling);
    };
    server.once('error', (error) => {
      stop();
      reject(error);
    });
    server.listen(port, '127.0.0.1', () => {
      const address = server.address();
      resolve({
        port: typeof address === 'object' && address ? address.port : port,
        close() {
          stop();
          for (const client of clients) client.destroy();
          server.close();
        },
      });
    });
  });
}
