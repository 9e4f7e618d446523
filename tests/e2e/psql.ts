import { execFileSync } from 'node:child_process';

const bin = () => execFileSync('bash', ['-c', 'ls -d /usr/lib/postgresql/*/bin | sort -V | tail -n 1'], { encoding: 'utf8' }).trim();

/** Where a database is and who comes in, as connection strings of the application say it. */
function parts(connection: string) {
  const part = (name: string) => new RegExp(`(?:^|;)${name}=([^;]*)`).exec(connection)?.[1] ?? '';
  return { host: part('Host'), port: part('Port'), user: part('Username'), password: part('Password'), database: part('Database') };
}

/** Rows of one column. */
export function query(connection: string, sql: string): string[] {
  const { host, port, user, password, database } = parts(connection);
  return execFileSync(`${bin()}/psql`, ['-h', host, '-p', port, '-U', user, '-d', database, '-Atc', sql], {
    encoding: 'utf8',
    maxBuffer: 1 << 28,
    env: { ...process.env, PGPASSWORD: password },
  })
    .split('\n')
    .filter(Boolean);
}

/** Makes a database as a copy of the example shop, where the tests made one; from server to server by a dump. */
export function copyExample(connection: string) {
  const { WISELOOM_TEST_TEMPLATE: example, WISELOOM_TEST_DB: made = '' } = process.env;
  if (!example) return;
  const quoted = (name: string) => `"${name.replaceAll('"', '""')}"`;
  const [to, from] = [parts(connection), parts(made)];
  const server = connection.replace(/Database=[^;]*/, 'Database=postgres');
  if (to.port === from.port) {
    query(server, `create database ${quoted(to.database)} template ${quoted(example)}`);
    return;
  }
  query(server, `create database ${quoted(to.database)}`);
  const dump = execFileSync(`${bin()}/pg_dump`, ['-h', from.host, '-p', from.port, '-U', from.user, example], { maxBuffer: 1 << 28, env: { ...process.env, PGPASSWORD: from.password } });
  execFileSync(`${bin()}/psql`, ['-h', to.host, '-p', to.port, '-U', to.user, '-d', to.database, '-qX', '-v', 'ON_ERROR_STOP=1'], { input: dump, stdio: ['pipe', 'ignore', 'inherit'], env: { ...process.env, PGPASSWORD: to.password } });
}
