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

/** Makes a database as a copy of the example shop, where the tests made one. */
export function copyExample(connection: string) {
  const example = process.env.WISELOOM_TEST_TEMPLATE;
  if (!example) return;
  const quoted = (name: string) => `"${name.replaceAll('"', '""')}"`;
  const { database } = parts(connection);
  query(connection.replace(/Database=[^;]*/, 'Database=postgres'), `create database ${quoted(database)} template ${quoted(example)}`);
}
