// validate.mjs SCHEMA FILE…: holds JSON files to a JSON Schema; says what does not fit, and ends with 1 when anything does not.
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';

const { Ajv2020 } = createRequire(new URL('../web/package.json', import.meta.url))('ajv/dist/2020.js');
const [schema, ...files] = process.argv.slice(2);
const valid = new Ajv2020({ allErrors: true, strict: false, validateFormats: false }).compile(JSON.parse(readFileSync(schema, 'utf8')));
for (const file of files) {
  if (valid(JSON.parse(readFileSync(file, 'utf8')))) continue;
  console.error(`${file} is not as ${schema} says:`, valid.errors?.slice(0, 10));
  process.exitCode = 1;
}
