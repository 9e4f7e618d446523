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
    at: '/bench/mostSkipped',
    label: 'A technician skips at most',
    unit: '% of the steps',
    times: 100,
    of: (v) => v.bench?.mostSkipped ?? 0.05,
  },
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

/** What is taken for wires of which papers do not say it. */
export const papers: Figure[] = [
  { at: '/papers/leastMm', label: 'Shortest wire', unit: 'mm', times: 1, of: (v) => v.papers?.leastMm ?? 0 },
  { at: '/papers/usualMm', label: 'Usual wire', unit: 'mm', times: 1, of: (v) => v.papers?.usualMm ?? 0 },
  { at: '/papers/mostMm', label: 'Longest wire', unit: 'mm', times: 1, of: (v) => v.papers?.mostMm ?? 0 },
  { at: '/papers/leastMm2', label: 'Thinnest wire', unit: 'mm²', times: 1, of: (v) => v.papers?.leastMm2 ?? 0 },
  { at: '/papers/usualMm2', label: 'Usual section', unit: 'mm²', times: 1, of: (v) => v.papers?.usualMm2 ?? 0 },
  { at: '/papers/mostMm2', label: 'Thickest wire', unit: 'mm²', times: 1, of: (v) => v.papers?.mostMm2 ?? 0 },
];

export const links: Figure[] = [
  {
    at: '/shareDays',
    label: 'A share link leads to its pack for',
    unit: 'days',
    times: 1,
    of: (v) => v.shareDays ?? 0,
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
  power: Power;
  /** What is asked of every run at the bench. */
  asks: Asks;
  /** Ids of pack sections that are left out. */
  pack: NonNullable<Limits['pack']>;
  tables: Record<TableName, Row[]>;
}

/** What is asked of every run at the bench: less is a lead's decision. */
export interface Asks {
  thorough: boolean;
  pulls: boolean;
  looks: boolean;
}

/** Words for what is asked of every run. */
export const asksWords: Record<keyof Asks, string> = {
  thorough: 'each circuit against all others',
  pulls: 'crimp samples',
  looks: 'looks at connectors, rings and pairs',
};

/** How looms are powered up, as it is written. */
export interface Power {
  school: string;
  required: readonly number[];
  secondsDry: string;
  controllers: readonly { name: string; host: string; port: string }[];
}

/** A row of a table as it is written: what it is for, and its value. */
export type Row = readonly [of: string, value: string];

/** A table of the limits: its place, its two columns, and what stands above it. */
export const tables = {
  carries: {
    at: '/cable/table',
    title: 'What a single wire carries',
    of: 'Section, mm²',
    value: 'Amperes',
    fields: ['mm2', 'amps'],
    add: 'Add a section',
    hint: 'In still air, 50 K warmer than the air, insulation for 105 °C.',
  },
  forces: {
    at: '/pulls/forces',
    title: 'What a crimp sample must hold',
    of: 'Section, mm²',
    value: 'Newtons',
    fields: ['mm2', 'newtons'],
    add: 'Add a section',
    hint: 'A section between two rows must hold what the smaller one does.',
  },
  sizes: {
    at: '/pulls/sizes',
    title: 'How many samples are pulled',
    of: 'Lot up to',
    value: 'Samples',
    fields: ['lotUpTo', 'samples'],
    add: 'Add a size',
    hint: 'A lot is all crimps of one section in one kind of housing on a loom.',
  },
} as const;

export type TableName = keyof typeof tables;

export const shown = (figure: Figure, of: Limits) => String(Number((figure.of(of) * figure.times).toPrecision(6)));

export const written = (limits: Limits): Written => ({
  figures: new Map([...copper, ...bench, ...cable, ...links, ...papers].map((f) => [f.at, shown(f, limits)])),
  insulation: String(limits.cable.insulationC),
  power: {
    school: limits.powerUp?.school ?? 'bench',
    required: limits.powerUp?.required ?? [],
    secondsDry: String(limits.powerUp?.secondsDry ?? 60),
    controllers: (limits.powerUp?.controllers ?? []).map((c) => ({ ...c, port: String(c.port) })),
  },
  asks: {
    thorough: limits.bench?.thorough ?? false,
    pulls: limits.bench?.pulls ?? false,
    looks: limits.bench?.looks ?? false,
  },
  pack: limits.pack ?? { leftOut: [] },
  tables: {
    carries: limits.cable.table.map((r) => [String(r.mm2), String(r.amps)]),
    forces: (limits.pulls?.forces ?? []).map((r) => [String(r.mm2), String(r.newtons)]),
    sizes: (limits.pulls?.sizes ?? []).map((r) => [String(r.lotUpTo), String(r.samples)]),
  },
});

/** The numbers of what was written. What is no number becomes one that cannot be, so that it is named at its place. */
export function numbersOf({ figures, insulation, power, asks, pack, tables: of }: Written): Limits {
  const number = (text: string | undefined) => {
    const value = text === undefined || text.trim() === '' ? NaN : Number(text.replace(',', '.'));
    return Number.isFinite(value) ? value : -1;
  };
  const share = (at: string) => number(figures.get(at)) / 100;
  return {
    pack,
    bench: { mostSkipped: share('/bench/mostSkipped'), ...asks },
    powerUp: {
      school: power.school,
      required: [...power.required],
      secondsDry: number(power.secondsDry),
      controllers: power.controllers.map((c) => ({ name: c.name, host: c.host, port: number(c.port) })),
    },
    shareDays: whole(number(figures.get('/shareDays'))),
    steadySeconds: number(figures.get('/steadySeconds')),
    knownLinkOhms: number(figures.get('/knownLinkOhms')),
    papers: {
      leastMm: number(figures.get('/papers/leastMm')),
      usualMm: number(figures.get('/papers/usualMm')),
      mostMm: number(figures.get('/papers/mostMm')),
      leastMm2: number(figures.get('/papers/leastMm2')),
      usualMm2: number(figures.get('/papers/usualMm2')),
      mostMm2: number(figures.get('/papers/mostMm2')),
    },
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
      table: of.carries.map(([mm2, amps]) => ({ mm2: number(mm2), amps: number(amps) })),
    },
    pulls: {
      forces: of.forces.map(([mm2, newtons]) => ({ mm2: number(mm2), newtons: number(newtons) })),
      // Only whole numbers: what is none becomes one that cannot be.
      sizes: of.sizes.map(([lot, samples]) => ({ lotUpTo: whole(number(lot)), samples: whole(number(samples)) })),
    },
  };
}

const whole = (value: number) => (Number.isInteger(value) && value < 1e9 ? value : -1);

/** What differs between two, in words. */
export function differences(theirs: Written, mine: Written): string[] {
  const told = (label: string, a: string | undefined, b: string | undefined) =>
    a === b ? [] : [`${label}: theirs ${a ?? 'nothing'}, yours ${b ?? 'nothing'}`];
  return [
    ...[...copper, ...bench, ...cable, ...links, ...papers].flatMap((f) =>
      told(`${f.label}, ${f.unit}`, theirs.figures.get(f.at), mine.figures.get(f.at)),
    ),
    ...told('Insulation for, °C', theirs.insulation, mine.insulation),
    ...(Object.keys(asksWords) as (keyof Asks)[]).flatMap((a) =>
      told(`Asked of every run: ${asksWords[a]}`, theirs.asks[a] ? 'yes' : 'no', mine.asks[a] ? 'yes' : 'no'),
    ),
    ...told('Left out of packs', [...theirs.pack.leftOut].sort().join(', '), [...mine.pack.leftOut].sort().join(', ')),
    ...told('Paper of packs', theirs.pack.paper, mine.pack.paper),
    ...told('Labelled', theirs.pack.labels, mine.pack.labels),
    ...(Object.keys(tables) as TableName[]).flatMap((name) => {
      const [one, other] = [new Map(theirs.tables[name]), new Map(mine.tables[name])];
      const { title, of, value } = tables[name];
      return [...new Set([...one.keys(), ...other.keys()])].flatMap((row) =>
        told(`${title}, ${of} ${row}, ${value}`, one.get(row), other.get(row)),
      );
    }),
  ];
}
