import { Ajv2020 } from 'ajv/dist/2020.js';
import { expect, it } from 'vitest';

import frostFan from '../../demo/frost-fan.json';
import workLaunch from '../../demo/work-launch.json';
import loomSchema from '../../docs/formats/loom.schema.json';
import loomFiles from '../../tests/corpus/loom-files.json';

interface Case {
  name: string;
  patch: { at: string; value: unknown }[];
  reads: boolean;
  schema: boolean;
}

const corpus = loomFiles as { base: Record<string, unknown>; cases: Case[] };
const valid = new Ajv2020({ allErrors: true, strict: false }).compile(loomSchema);

/** A file with a value put in at a place, or taken out there. */
function patched(file: Record<string, unknown>, { at, value }: Case['patch'][number]) {
  const steps = at.split('/').slice(1);
  const last = steps.pop() ?? '';
  const place = steps.reduce<Record<string, unknown>>((node, step) => node[step] as Record<string, unknown>, file);
  if (value === '__delete__') Reflect.deleteProperty(place, last);
  else place[last] = value;
}

it.each(corpus.cases.map((c) => [c.name, c] as const))('the schema, %s', (_, { patch, schema }) => {
  const file = structuredClone(corpus.base);
  patch.forEach((p) => patched(file, p));
  expect(valid(file), JSON.stringify(valid.errors)).toBe(schema);
});

it.each([
  ['frost fan', frostFan],
  ['work launch', workLaunch],
] as const)('the demo’s %s is right by the schema', (_, file) => {
  expect(valid(file), JSON.stringify(valid.errors?.slice(0, 3))).toBe(true);
});
