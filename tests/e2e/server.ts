import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { createServer, type AddressInfo } from 'node:net';
import { fileURLToPath } from 'node:url';
import { copyExample } from './psql.ts';

const root = fileURLToPath(new URL('../../', import.meta.url));
const cli = `${root}src/WiseLoom.Cli/bin/Release/net10.0/WiseLoom.Cli.dll`;
const web = `${root}src/WiseLoom.Web/bin/Release/net10.0/WiseLoom.Web.dll`;

/** Seals the cookie keys of all shops of the tests. */
const secret = '7'.repeat(64);

/** Nothing is logged but what is wrong, and that the application has started. */
const quiet = (level: string) => ({ Logging__LogLevel__Default: level, 'Logging__LogLevel__Microsoft.Hosting.Lifetime': 'Information' });

export async function freePorts(count: number): Promise<number[]> {
  const servers = await Promise.all(
    Array.from({ length: count }, async () => {
      const server = createServer().listen(0, '127.0.0.1');
      await once(server, 'listening');
      return server;
    }),
  );
  const ports = servers.map((s) => (s.address() as AddressInfo).port);
  await Promise.all(servers.map((s) => new Promise((done) => s.close(done))));
  return ports;
}

/** What the application said until it had started. */
function started(app: ChildProcess): Promise<string> {
  return new Promise((done, failed) => {
    let said = '';
    app.stdout?.on('data', (text: Buffer) => {
      said += text.toString();
      if (said.includes('Application started')) done(said);
    });
    app.once('exit', (code) => failed(new Error(`The application stopped while starting (exit ${code}).`)));
  });
}

/** The whole shop: application with a database of its own, and both stand-in meters with their hidden faults. */
export class ShopServer {
  private app: ChildProcess | undefined;
  private standIns: ChildProcess[] = [];
  /** What it said while it started. */
  said = '';

  private constructor(
    readonly url: string,
    private readonly env: NodeJS.ProcessEnv,
  ) {}

  /** An application on a database that others may use too; without stand-ins. */
  static async beside(connection: string): Promise<ShopServer> {
    const [port = 0] = await freePorts(1);
    const shop = new ShopServer(`http://127.0.0.1:${port}`, {
      ...process.env,
      WISELOOM_DB: connection,
      WISELOOM_SECRET: secret,
      WISELOOM_DEMO: `${root}demo`,
      WISELOOM_CHROMIUM: '/nonexistent',
      ASPNETCORE_URLS: `http://127.0.0.1:${port}`,
      ...quiet('None'),
    });
    await shop.start();
    return shop;
  }

  static async open(name: string, extra: NodeJS.ProcessEnv = {}): Promise<ShopServer> {
    const { WISELOOM_TEST_DB: schema, WISELOOM_TEST_APP_DB: database } = process.env;
    if (!schema || !database) throw new Error('WISELOOM_TEST_DB is not set: run ./wise-loom test.');
    const [port = 0] = await freePorts(1);
    const standIns = await consecutivePorts();
    const named = (connection: string) => connection.replace(/Database=[^;]*/, `Database=${name}_${process.pid}_${port}`);
    const shop = new ShopServer(`http://127.0.0.1:${port}`, {
      ...process.env,
      WISELOOM_DB: named(database),
      WISELOOM_MIGRATIONS_DB: named(schema),
      WISELOOM_SECRET: secret,
      WISELOOM_DEMO: `${root}demo`,
      WISELOOM_PAGES: `${root}web/dist`,
      WISELOOM_STANDINS: String(standIns),
      ASPNETCORE_URLS: `http://127.0.0.1:${port}`,
      ...quiet('Error'),
      ...extra,
    });
    shop.standIns = [
      shop.run(cli, 'stand-in', 'meter', '--loom', 'demo/frost-fan.json', '--faults', 'demo/frost-fan.faults.json', '--port', String(standIns), '--seed', '5'),
      shop.run(cli, 'stand-in', 'meter', '--loom', 'demo/work-launch.json', '--faults', 'demo/work-launch.faults.json', '--port', String(standIns + 1), '--seed', '8'),
    ];
    // Who leaves out the example world begins with nothing.
    if (!('WISELOOM_DEMO' in extra)) copyExample(named(schema));
    await shop.start().catch(async (error: unknown) => {
      await shop.close();
      throw error;
    });
    return shop;
  }

  async start() {
    this.app = this.run(web);
    this.said = await started(this.app);
  }

  /** As a power cut would: no signal handler runs. */
  async kill() {
    const app = this.app;
    app?.kill('SIGKILL');
    if (app && app.exitCode === null && app.signalCode === null) await once(app, 'exit');
  }

  async close() {
    await this.kill();
    this.standIns.forEach((s) => s.kill('SIGKILL'));
  }

  private run(...args: string[]) {
    return spawn('dotnet', args, { cwd: root, env: this.env, stdio: ['ignore', 'pipe', 'inherit'] });
  }
}

/** Two free ports in a row, for the stand-ins. */
async function consecutivePorts(): Promise<number> {
  for (;;) {
    const [first = 0] = await freePorts(1);
    const next = createServer();
    const free = await new Promise<boolean>((done) => {
      next.once('error', () => done(false));
      next.listen(first + 1, '127.0.0.1', () => next.close(() => done(true)));
    });
    if (free) return first;
  }
}

/** A stand-in meter of its own, with hidden faults that nobody else mends; gives its port, and what stops it before the tests end. */
export async function standIn(loom: string, faults: string, seed: number, what: 'meter' | 'controller' = 'meter'): Promise<{ port: number; stop: () => void }> {
  const meter = spawn('dotnet', [cli, 'stand-in', what, '--loom', loom, '--faults', faults, '--port', '0', '--seed', String(seed)], { cwd: root, stdio: ['ignore', 'pipe', 'inherit'] });
  const port = await new Promise<number>((done, failed) => {
    let said = '';
    meter.stdout.on('data', (text: Buffer) => {
      said += text.toString();
      const at = /127\.0\.0\.1:(\d+)/.exec(said);
      if (at) done(Number(at[1]));
    });
    meter.once('exit', (code) => failed(new Error(`The stand-in stopped (exit ${code}).`)));
  });
  const stop = () => meter.kill('SIGKILL');
  // Whoever does not stop it leaves it to the end of the worker: none outlives the tests.
  process.once('exit', stop);
  return { port, stop };
}
