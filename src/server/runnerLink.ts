import { spawn, type ChildProcess } from 'node:child_process';
import path from 'node:path';
import { connect, type Socket } from 'node:net';
import { Feeder } from '../core/runner/feeder';
import { DEFAULT_RUNNER_PORT, type RunnerSetup, type RunnerStatus } from '../core/runner/protocol';
import type { RunnerNews } from '../core/runner/news';
import { createLineCutter, listFedLines } from '../core/runner/wire';

type Listener = (news: RunnerNews) => void;

const FEED_MS = 4;
const TELL_MS = 100;
const CONNECT_MS = 1500;
/** How often, and how long between, a started machine is asked whether it is there. */
const [START_TRIES, START_WAIT_MS] = [40, 250];
/** A command that is not answered in this time is given up, ms; a shape takes its time to be taken in. */
const ANSWER_MS = 3000;
const SHAPE_ANSWER_MS = 60_000;
/** A machine that homes is asked so often whether it has, and no longer than so, ms. */
const [HOMED_ASK_MS, HOMED_MS] = [30, 10_000];

/** The one connection of the server to the simulated machine; pages listen to it and give it commands. */
export class RunnerLink {
  private socket: Socket | null = null;
  private status: RunnerStatus | null = null;
  private why: string | null = null;
  private feeder: Feeder | null = null;
  private name = '';
  private fileLines: number[] = [];
  private touches: string[] = [];
  private readonly listeners = new Set<Listener>();
  private waiting: { word: string; resolve(answer: string): void }[] = [];
  private timer: ReturnType<typeof setInterval> | null = null;
  private toldMs = 0;
  private child: ChildProcess | null = null;
  /** Shapes that it was sent over this connection. */
  private readonly sent = new Set<string>();
  /** The attempt to connect that is under way. */
  private opening: Promise<boolean> | null = null;

  constructor(private readonly port: number) {}

  get news(): RunnerNews {
    const progress = this.feeder?.progress ?? null;
    return {
      link: this.socket ? 'up' : 'down',
      why: this.why,
      status: this.status,
      feed: progress && { ...progress, name: this.name, fileLine: this.fileLines[Math.max(0, (this.status?.line ?? 1) - 1)] ?? 0 },
      touches: this.touches,
    };
  }

  listen(listener: Listener): () => void {
    this.listeners.add(listener);
    void this.open();
    return () => {
      this.listeners.delete(listener);
    };
  }

  private tell(): void {
    const { news } = this;
    for (const listener of this.listeners) listener(news);
    this.toldMs = performance.now();
  }

  /** Connects, if it is not. @returns Whether it is now. */
  open(): Promise<boolean> {
    if (this.socket) return Promise.resolve(true);
    return (this.opening ??= this.connect().finally(() => (this.opening = null)));
  }

  private connect(): Promise<boolean> {
    return new Promise((resolve) => {
      const socket = connect(this.port, '127.0.0.1');
      const fail = (why: string): void => {
        socket.destroy();
        this.why = why;
        this.tell();
        resolve(false);
      };
      const timer = setTimeout(() => fail(`it does not answer on port ${this.port}`), CONNECT_MS);
      socket.setEncoding('utf8');
      socket.setNoDelay(true);
      socket.once('connect', () => {
        clearTimeout(timer);
        this.take(socket);
        resolve(true);
      });
      socket.once('error', () => {
        clearTimeout(timer);
        if (this.socket !== socket) fail(`nothing answers on port ${this.port}`);
      });
    });
  }

  /** Starts the simulated machine as a process of its own, where none listens yet. @returns Why it could not, or null. */
  async start(): Promise<string | null> {
    if (await this.open()) return null;
    // It ends when its input does: with the server, however that ends.
    const command = ['--import', 'tsx', path.resolve('src/cli/main.ts'), 'runner', '--port', String(this.port), '--attached'];
    this.child ??= spawn(process.execPath, command, { stdio: ['pipe', 'ignore', 'pipe'] });
    let said = '';
    this.child.stderr?.on('data', (chunk: Buffer) => (said += chunk.toString()));
    this.child.once('exit', (code, signal) => {
      this.child = null;
      this.why = `it ended (${signal ?? code ?? '?'})${said ? `: ${said.trim().split('\n').pop()!}` : ''}`;
      this.tell();
    });
    for (let tries = 0; tries < START_TRIES; tries++) {
      await new Promise((resolve) => setTimeout(resolve, START_WAIT_MS));
      if (await this.open()) return null;
      if (!this.child) break;
    }
    return said.trim().split('\n')[0] || 'it does not start';
  }

  private take(socket: Socket): void {
    this.socket = socket;
    this.why = null;
    this.sent.clear();
    const cut = createLineCutter();
    socket.on('data', (chunk: string) => {
      for (const line of cut(chunk)) this.hear(line);
    });
    socket.on('close', () => {
      if (this.socket !== socket) return;
      this.socket = null;
      this.why = 'the connection to it broke off';
      for (const { resolve } of this.waiting.splice(0)) resolve('no the connection broke off');
      this.stopFeeding();
      this.tell();
    });
    this.tell();
  }

  private hear(line: string): void {
    if (this.feeder?.hear(line, performance.now())) return;
    if (line.startsWith('at ')) {
      this.status = JSON.parse(line.slice(3)) as RunnerStatus;
      if (performance.now() - this.toldMs > TELL_MS / 2) this.tell();
    } else if (line.startsWith('touch ')) this.touches.push(line.slice(6));
    else if (line.startsWith('ok ') || line.startsWith('no ')) {
      const word = line.split(' ')[1]!;
      const at = this.waiting.findIndex((w) => w.word === word);
      if (at >= 0) this.waiting.splice(at, 1)[0]!.resolve(line);
    }
  }

  /** Gives a command. @returns What it answers, or `no …` with why it does not; homed it is when the answer comes. */
  async command(text: string): Promise<string> {
    const answer = await this.ask(text, ANSWER_MS);
    for (let waitedMs = 0; text === 'home' && answer.startsWith('ok') && waitedMs < HOMED_MS; waitedMs += HOMED_ASK_MS) {
      await new Promise((resolve) => setTimeout(resolve, HOMED_ASK_MS));
      this.socket?.write('status\n');
      if (!this.socket || (this.status && this.status.state !== 'homing' && (this.status.isHomed || this.status.state !== 'idle'))) break;
    }
    return answer;
  }

  private async ask(text: string, answerMs: number): Promise<string> {
    if (!(await this.open())) return `no ${this.why}`;
    const word = text.split(' ')[0]!;
    return new Promise((resolve) => {
      const own = { word, resolve };
      this.waiting.push(own);
      setTimeout(() => {
        const at = this.waiting.indexOf(own);
        if (at < 0) return;
        this.waiting.splice(at, 1);
        resolve('no it did not answer in time');
      }, answerMs);
      this.socket!.write(`${text}\n`);
    });
  }

  /** Says what is on the machine. @param findShape Finds a free shape by its id, packed: it is sent before, once. */
  async place(setup: RunnerSetup, findShape: (id: string) => Uint8Array | null = () => null): Promise<string> {
    const { blank } = setup;
    const id = blank.kind === 'free' && 'id' in blank.shape && !this.sent.has(blank.shape.id) ? blank.shape.id : null;
    const packed = id === null ? null : findShape(id);
    if (id !== null && packed) {
      const taken = await this.ask(`shape ${id} ${Buffer.from(packed).toString('base64')}`, SHAPE_ANSWER_MS);
      if (taken.startsWith('no')) return taken;
      this.sent.add(id);
    }
    return this.ask(`setup ${JSON.stringify(setup)}`, SHAPE_ANSWER_MS);
  }

  /** Begins to feed a program from its first line. */
  async feed(name: string, text: string, ...place: Parameters<RunnerLink['place']>): Promise<string> {
    const stopped = await this.command('stop');
    if (stopped.startsWith('no')) return stopped;
    const taken = await this.place(...place);
    if (taken.startsWith('no')) return taken;
    const { lines, at } = listFedLines(text);
    this.name = name;
    this.fileLines = at;
    this.touches = [];
    this.feeder = new Feeder(lines, performance.now());
    // What it told last is of what it ran before.
    if (this.status) this.status = { ...this.status, line: 0, touches: 0, ended: false };
    this.timer ??= setInterval(() => this.goOn(), FEED_MS);
    this.tell();
    return 'ok feed';
  }

  private goOn(): void {
    const { feeder, socket } = this;
    if (!feeder || !socket) return this.stopFeeding();
    const lines = feeder.take(performance.now());
    if (lines.length > 0) socket.write(`${lines.join('\n')}\n`);
    if (feeder.progress.state !== 'feeding') this.stopFeeding();
  }

  private stopFeeding(): void {
    if (this.timer) clearInterval(this.timer);
    this.timer = null;
  }

  /** Feeds no more of what is fed; how far it came stays known. */
  dropFeed(): void {
    this.stopFeeding();
    this.tell();
  }
}

const readPort = (): number => {
  const own = Number(process.env.HOBEL_RUNNER_PORT);
  return Number.isInteger(own) && own > 0 && own < 65536 ? own : DEFAULT_RUNNER_PORT;
};

/** One for all pages, whatever module loads it. */
const shared = globalThis as { hobelRunner?: RunnerLink };
export const getRunnerLink = (): RunnerLink => (shared.hobelRunner ??= new RunnerLink(readPort()));
