// Puts one fault after the other into a copy of the core and runs the tests that should notice: mutants.mjs COPY [PART-OF-NAME]
import { spawnSync } from 'node:child_process';
import { copyFileSync, readFileSync, writeFileSync } from 'node:fs';

const [copy = '', part = ''] = process.argv.slice(2);
const most = 0.1;
const tests = `${copy}/tests/WiseLoom.Core.Tests`;
const run = (command, ...args) => spawnSync(command, args, { cwd: copy, encoding: 'utf8', maxBuffer: 1 << 28, timeout: 600_000, killSignal: 'SIGKILL' });
const build = (project, ...more) => run('dotnet', 'build', project, ...more, '-c', 'Release', '-v', 'quiet', '--nologo', '-p:UseSharedCompilation=true', '-p:RunAnalyzersDuringBuild=false', '-p:TreatWarningsAsErrors=false');
const fails = (classes) => run('dotnet', `${tests}/bin/Release/net10.0/WiseLoom.Core.Tests.dll`, '-noColor', '-stopOnFail', ...classes.flatMap((c) => ['-class', `*.${c}`]));

const all = JSON.parse(readFileSync(`${copy}/bench/mutants.json`, 'utf8')).filter((m) => m.name.includes(part));
const first = build(tests);
if (first.status !== 0) throw new Error(`The code as it is does not build:\n${first.stdout.slice(-3000)}`);
const sound = fails([...new Set(all.flatMap((m) => m.tests))]);
if (sound.status !== 0) throw new Error(`The code as it is does not pass:\n${sound.stdout.slice(-3000)}`);

const survivors = [];
for (const { name, file, find, put, tests: classes } of all) {
  const text = readFileSync(`${copy}/${file}`, 'utf8');
  if (text.split(find).length !== 2) throw new Error(`${name}: the text to change stands ${text.split(find).length - 1} times in ${file}.`);
  writeFileSync(`${copy}/${file}`, text.replace(find, () => put));
  const built = build('src/WiseLoom.Core', '--no-restore');
  if (built.status !== 0) throw new Error(`${name} does not compile:\n${built.stdout.slice(-2000)}`);
  copyFileSync(`${copy}/src/WiseLoom.Core/bin/Release/net10.0/WiseLoom.Core.dll`, `${tests}/bin/Release/net10.0/WiseLoom.Core.dll`);
  const { status, stdout } = fails(classes);
  const by = /(\w+\.\w+)(?:\(.*)? \[FAIL\]/.exec(stdout)?.[1] ?? 'no end';
  if (status === 0) survivors.push(name);
  console.log(`${status === 0 ? 'SURVIVES' : 'found   '}  ${name}${status === 0 ? '' : `: ${by}`}`);
  writeFileSync(`${copy}/${file}`, text);
}

console.log(`${all.length - survivors.length} of ${all.length} found, ${survivors.length} survive (fewer than ${Math.round(most * 100)} %)${survivors.length >= most * all.length ? '   MISSED' : ''}`);
process.exit(survivors.length >= most * all.length ? 1 : 0);
