import { expect, test } from '@playwright/test';
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, readdirSync, readFileSync, chmodSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { fileURLToPath } from 'node:url';
import { freePorts } from '../server.ts';

const root = fileURLToPath(new URL('../../../', import.meta.url));

const answers = (url: string) => fetch(url).then(
  (a) => a.status,
  () => 0,
);

/** Numbers of the processes whose command line holds all of these. */
const processes = (...parts: string[]) =>
  readdirSync('/proc')
    .filter((p) => /^\d+$/.test(p))
    .filter((p) => {
      try {
        const line = readFileSync(`/proc/${p}/cmdline`, 'utf8').replaceAll('\0', ' ');
        return line.startsWith('dotnet') && parts.every((part) => line.includes(part));
      } catch {
        return false;
      }
    })
    .map(Number);

/** The shop as an owner starts it: whatever of it is killed is there again, and with the end of the script all of it is gone.
 *  Long: the whole program is started on an empty folder; before a release with the example shop, which is computed, and its stand-ins. */
test('a killed database, stand-in or application is started again, and Ctrl-C stops everything', async () => {
  test.setTimeout(480_000);
  const deep = process.env.WISELOOM_DEEP === '1';
  const home = mkdtempSync(`${tmpdir()}/wise-loom-start-`);
  chmodSync(home, 0o755);
  const [port = 0, database = 0] = await freePorts(2);
  const standIns = port + 1;
  const url = `http://127.0.0.1:${port}/health`;
  const shop = spawn('./wise-loom', ['start'], {
    cwd: root,
    stdio: 'ignore',
    env: { ...process.env, WISELOOM_HOME: home, WISELOOM_PORT: String(port), WISELOOM_DB_PORT: String(database), WISELOOM_STANDINS: String(standIns), WISELOOM_DB: '', ...(deep ? {} : { WISELOOM_DEMO: '' }) },
  });
  const ended = once(shop, 'exit');
  try {
    await expect.poll(() => answers(url), { timeout: 300_000 }).toBe(200);

    const postmaster = Number(readFileSync(`${home}/postgres/postmaster.pid`, 'utf8').split('\n')[0]);
    process.kill(postmaster, 'SIGKILL');
    await expect.poll(() => Number(readFileSync(`${home}/postgres/postmaster.pid`, 'utf8').split('\n')[0]), { timeout: 30_000 }).not.toBe(postmaster);
    await expect.poll(() => answers(url), { timeout: 30_000 }).toBe(200);

    if (deep) {
      const meter = () => processes('stand-in meter', `--port ${standIns} `)[0];
      const before = meter();
      expect(before).toBeDefined();
      process.kill(before!, 'SIGKILL');
      await expect.poll(() => meter() ?? before, { timeout: 30_000 }).not.toBe(before);
    }

    const [, ...rest] = processes('WiseLoom.Web.dll').filter((p) => readFileSync(`/proc/${p}/environ`, 'utf8').includes(`ASPNETCORE_URLS=http://127.0.0.1:${port}\0`));
    expect(rest).toHaveLength(0);
    const application = processes('WiseLoom.Web.dll').find((p) => readFileSync(`/proc/${p}/environ`, 'utf8').includes(`ASPNETCORE_URLS=http://127.0.0.1:${port}\0`));
    process.kill(application!, 'SIGKILL');
    await expect.poll(() => answers(url), { timeout: 30_000 }).toBe(0);
    await expect.poll(() => answers(url), { timeout: 60_000 }).toBe(200);
  } finally {
    shop.kill('SIGTERM');
    await ended;
  }

  expect(await answers(url)).toBe(0);
  expect(processes('stand-in', `--port ${standIns} `)).toHaveLength(0);
  rmSync(home, { recursive: true, force: true });
});
