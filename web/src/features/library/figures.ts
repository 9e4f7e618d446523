import type { Schemas } from '../../api/client';

type Limits = Schemas['ShopLimits'];

/** One figure: where it stands, what it is called, and by how much it is multiplied to be read. */
export interface Figure {
  at: string;
  label: string;
  unit: string;
  times: number;
  of: (v: Limits) => number;
}

export const copper: Figure[] = [
  {
    at: '/copper/lengthShare',
    label: 'A length is trusted to',
    unit: '%',
    times: 100,
    of: (v) => v.copper.lengthShare,
  },
  { at: '/copper/lengthMm', label: 'but to no less than', unit: 'mm', times: 1, of: (v) => v.copper.lengthMm },
  { at: '/copper/ambientK', label: 'Ambient temperature, to', unit: 'K', times: 1, of: (v) => v.copper.ambientK },
  {
    at: '/copper/leastOfNominal',
    label: 'Copper, at its best',
    unit: '% of nominal',
    times: 100,
    of: (v) => v.copper.leastOfNominal,
  },
];

export const bench: Figure[] = [
  {
    at: '/steadySeconds',
    label: 'A reading is taken when steady for',
    unit: 's',
    times: 1,
    of: (v) => v.steadySeconds ?? 0,
  },
  {
    at: '/knownLinkOhms',
    label: 'The known link for meters has',
    unit: 'Ω',
    times: 1,
    of: (v) => v.knownLinkOhms ?? 0,
  },
];

export const cable: Figure[] = [
  { at: '/cable/feedDrop', label: 'A feed may lose', unit: '% of supply', times: 100, of: (v) => v.cable.feedDrop },
  {
    at: '/cable/sensorGroundDrop',
    label: 'A sensor ground may lose',
    unit: '% of supply',
    times: 100,
    of: (v) => v.cable.sensorGroundDrop,
  },
  {
    at: '/cable/fuseLoad',
    label: 'A fuse carries at most',
    unit: '% of rating',
    times: 100,
    of: (v) => v.cable.fuseLoad,
  },
];

/** What a person has written, not yet numbers. */
export interface Written {
  figures: ReadonlyMap<string, string>;
  insulation: string;
  rows: { mm2: string; amps: string }[];
}

export const shown = (figure: Figure, of: Limits) => String(Number((figure.of(of) * figure.times).toPrecision(6)));

export const written = (limits: Limits): Written => ({
  figures: new Map([...copper, ...bench, ...cable].map((f) => [f.at, shown(f, limits)])),
  insulation: String(limits.cable.insulationC),
  rows: limits.cable.table.map((r) => ({ mm2: String(r.mm2), amps: String(r.amps) })),
});

/** The numbers of what was written. What is no number becomes one that cannot be, so that it is named at its place. */
export function numbersOf({ figures, insulation, rows }: Written): Limits {
  const number = (text: string | undefined) => {
    const value = text === undefined || text.trim() === '' ? NaN : Number(text.replace(',', '.'));
    return Number.isFinite(value) ? value : -1;
  };
  const share = (at: string) => number(figures.get(at)) / 100;
  return {
    steadySeconds: number(figures.get('/steadySeconds')),
    knownLinkOhms: number(figures.get('/knownLinkOhms')),
    copper: {
      lengthShare: share('/copper/lengthShare'),
      lengthMm: number(figures.get('/copper/lengthMm')),
      ambientK: number(figures.get('/copper/ambientK')),
      leastOfNominal: share('/copper/leastOfNominal'),
    },
    cable: {
      insulationC: Number(insulation),
      feedDrop: share('/cable/feedDrop'),
      sensorGroundDrop: share('/cable/sensorGroundDrop'),
      fuseLoad: share('/cable/fuseLoad'),
      table: rows.map((r) => ({ mm2: number(r.mm2), amps: number(r.amps) })),
    },
  };
}

/** What differs between two, in words. */
export function differences(theirs: Written, mine: Written): string[] {
  const told = (label: string, a: string | undefined, b: string | undefined) =>
    a === b ? [] : [`${label}: theirs ${a ?? 'nothing'}, yours ${b ?? 'nothing'}`];
  return [
    ...[...copper, ...bench, ...cable].flatMap((f) =>
      told(`${f.label}, ${f.unit}`, theirs.figures.get(f.at), mine.figures.get(f.at)),
    ),
    ...told('Insulation for, °C', theirs.insulation, mine.insulation),
    ...[...new Set([...theirs.rows, ...mine.rows].map((r) => r.mm2))].flatMap((mm2) =>
      told(
        `${mm2} mm² carries, A`,
        theirs.rows.find((r) => r.mm2 === mm2)?.amps,
        mine.rows.find((r) => r.mm2 === mm2)?.amps,
      ),
    ),
  ];
}
