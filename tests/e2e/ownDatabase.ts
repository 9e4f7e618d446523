import { spawnSync } from 'node:child_process';
import { chmodSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { fileURLToPath } from 'node:url';
import { query } from './psql.ts';
import { freePorts } from './server.ts';

const root = fileURLToPath(new URL('../../', import.meta.url));

/** A PostgreSQL of its own, for a test that kills it. */
export class OwnDatabase {
  private constructor(
    private readonly folder: string,
    private readonly port: number,
  ) {}

  static async make(): Promise<OwnDatabase> {
    const folder = mkdtempSync(`${tmpdir()}/wise-loom-`);
    chmodSync(folder, 0o755);
    const [port = 0] = await freePorts(1);
    const database = new OwnDatabase(folder, port);
    if (!database.tryStart()) throw new Error(`PostgreSQL did not start; see ${folder}.`);
    return database;
  }

  connection(name: string): string {
    return `Host=127.0.0.1;Port=${this.port};Username=wiseloom_schema;Password=${this.password()};Database=${name};Timeout=5`;
  }

  /** As a power cut would: the server and all that works for it, no handler runs. */
  async kill() {
    const [pid = ''] = readFileSync(`${this.folder}/postgres/postmaster.pid`, 'utf8').split('\n');
    const workers = spawnSync('pgrep', ['-P', pid], { encoding: 'utf8' }).stdout.split('\n').filter(Boolean);
    for (const each of [pid, ...workers])
      try {
        process.kill(Number(each), 'SIGKILL');
      } catch {
        // It has gone by itself.
      }
    await Promise.resolve();
  }

  /** Starts it again; what the killed one held is let go of by the system a moment later. */
  async start() {
    while (!this.tryStart()) await new Promise((next) => setImmediate(next));
  }

  /** Rows of one column. */
  query(name: string, sql: string): string[] {
    return query(this.connection(name), sql);
  }

  private password(): string {
    return /^schema=(\w+)$/m.exec(readFileSync(`${this.folder}/postgres.secrets`, 'utf8'))?.[1] ?? '';
  }

  async stop() {
    await this.kill();
    rmSync(this.folder, { recursive: true, force: true, maxRetries: 10 });
  }

  private tryStart(): boolean {
    return spawnSync('bash', ['-c', '. scripts/machine.sh; . scripts/postgres.sh; start_postgres "$1" "$2"', '_', `${this.folder}/postgres`, String(this.port)], { cwd: root, stdio: 'ignore' }).status === 0;
  }
}
