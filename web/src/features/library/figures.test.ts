import fc from 'fast-check';
import { expect, it } from 'vitest';
import { differences, numbersOf, written } from './figures';

const limits = {
  pack: { leftOut: ['how'], paper: 'a4' as const },
  bench: { mostSkipped: 0.05, thorough: true, pulls: false, looks: false },
  steadySeconds: 0.6,
  shareDays: 730,
  papers: { leastMm: 100, usualMm: 1500, mostMm: 6000, leastMm2: 0.35, usualMm2: 0.5, mostMm2: 1 },
  knownLinkOhms: 1,
  powerUp: {
    school: 'bench',
    required: [1, 2],
    secondsDry: 60,
    controllers: [{ name: 'Bench', host: '127.0.0.1', port: 7153 }],
  },
  pulls: { forces: [{ mm2: 0.5, newtons: 60 }], sizes: [{ lotUpTo: 20, samples: 2 }] },
  copper: { lengthShare: 0.02, lengthMm: 20, ambientK: 3, leastOfNominal: 0.96 },
  cable: {
    insulationC: 105,
    feedDrop: 0.03,
    sensorGroundDrop: 0.01,
    fuseLoad: 0.8,
    table: [
      { mm2: 0.5, amps: 5 },
      { mm2: 1, amps: 10 },
    ],
  },
};

it('what is written of limits means the same limits', () => {
  expect(numbersOf(written(limits))).toEqual(limits);
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 500 }), fc.integer({ min: 1, max: 1000 }), (share, mm) => {
      const some = { ...limits, copper: { ...limits.copper, lengthShare: share / 1000, lengthMm: mm } };
      expect(numbersOf(written(some)).copper.lengthShare).toBeCloseTo(share / 1000, 9);
      expect(numbersOf(written(some)).copper.lengthMm).toBe(mm);
    }),
  );
});

it.each(['', 'much', '1e999', 'NaN'])(
  'what is no number (%j) becomes one that cannot be, so that it is named at its place',
  (text) => {
    const figures = new Map(written(limits).figures).set('/copper/lengthMm', text);
    expect(numbersOf({ ...written(limits), figures }).copper.lengthMm).toBe(-1);
  },
);

it.each(['2.5', '', 'some', '1e12'])('a number of samples (%j) that is not whole cannot be', (text) => {
  const { tables } = written(limits);
  const other = { ...written(limits), tables: { ...tables, sizes: [['20', text]] as const } };
  expect(
    numbersOf({ ...other, tables: { ...other.tables, sizes: [...other.tables.sizes] } }).pulls?.sizes[0]?.samples,
  ).toBe(-1);
});

it('differences are told figure by figure, rows of the table by their section', () => {
  const theirs = written(limits);
  const mine = written({
    ...limits,
    copper: { ...limits.copper, lengthMm: 30 },
    cable: { ...limits.cable, table: [{ mm2: 0.5, amps: 6 }] },
  });
  expect(differences(theirs, theirs)).toEqual([]);
  expect(differences(theirs, { ...theirs, pack: { leftOut: [], paper: 'letter' } })).toEqual([
    'Left out of packs: theirs how, yours ',
    'Paper of packs: theirs a4, yours letter',
  ]);
  expect(differences(theirs, mine)).toEqual([
    'but to no less than, mm: theirs 20, yours 30',
    'What a single wire carries, Section, mm² 0.5, Amperes: theirs 5, yours 6',
    'What a single wire carries, Section, mm² 1, Amperes: theirs 10, yours nothing',
  ]);
});
