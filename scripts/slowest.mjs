// The 25 slowest tests of a run: slowest.mjs WORK BROWSER-RESULTS
import { existsSync, readFileSync, readdirSync } from 'node:fs';

const [work, browser] = process.argv.slice(2);
const took = [];
for (const file of readdirSync(work).filter((f) => f.endsWith('.trx')))
  for (const [line] of readFileSync(`${work}/${file}`, 'utf8').matchAll(/<UnitTestResult [^>]*>/g)) {
    const [, h, m, s] = /duration="(\d+):(\d+):([\d.]+)"/.exec(line) ?? [];
    const name = /testName="([^"]*)"/.exec(line)?.[1] ?? '';
    took.push([h * 3600 + m * 60 + Number(s), name.replaceAll('&quot;', '"')]);
  }
const specs = (suite) => {
  for (const spec of suite.specs ?? []) for (const test of spec.tests) took.push([test.results.reduce((sum, r) => sum + r.duration, 0) / 1000, `${spec.file}: ${spec.title}`]);
  for (const inner of suite.suites ?? []) specs(inner);
};
if (existsSync(browser)) for (const suite of JSON.parse(readFileSync(browser, 'utf8')).suites) specs(suite);
took.sort((a, b) => b[0] - a[0]);
console.error('The slowest tests:');
for (const [seconds, name] of took.slice(0, 25)) console.error(`${seconds.toFixed(1).padStart(7)} s  ${name.slice(0, 150)}`);
