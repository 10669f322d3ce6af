// npm run demo: installs what is missing, builds, migrates, seeds, starts, prints the address.
import { spawn } from 'node:child_process';
import { createServer } from 'node:net';
import { ensureBuild, ensurePackages, root } from './ensure.mjs';

ensurePackages();
ensureBuild();

const isFree = (port) =>
  new Promise((resolve) => {
    const probe = createServer()
      .once('error', () => resolve(false))
      .once('listening', () => probe.close(() => resolve(true)))
      .listen(port, '127.0.0.1');
  });
let port = Number(process.env.PORT ?? 4310);
if (!Number.isInteger(port) || port < 1 || port > 65535)
  throw new Error(`PORT is "${process.env.PORT}": set it to a number from 1 to 65535`);
while (!(await isFree(port))) port++;

// Migrations and seeding run in the server, when it starts.
const server = spawn(process.execPath, ['node_modules/next/dist/bin/next', 'start', '-H', '127.0.0.1', '-p', String(port)], {
  cwd: root,
  stdio: ['ignore', 'ignore', 'inherit'],
  env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' },
});
server.on('exit', (code) => process.exit(code ?? 0));
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
for (let tries = 0; tries < 200; tries++) {
  try {
    const answer = await fetch(`http://127.0.0.1:${port}/api/jobs`);
    if (answer.ok) break;
    console.error(`Hobel answers ${answer.status}: ${await answer.text()}`);
    break;
  } catch {
    await new Promise((resolve) => setTimeout(resolve, 150));
  }
}
console.log(`Hobel is at http://127.0.0.1:${port}`);
