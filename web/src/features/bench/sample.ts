import type { Schemas } from '../../api/client';
import type { Waiting } from './outboxStore';
import type { Bench, Run } from './runEvents';

/** Small runs and readings for tests. */
const meter = { id: 1, name: 'Bench meter', fourWire: true, remote: true, matrix: true, overdue: null };

export function sampleStep(number: number, state: Schemas['StepState'] = 'not-tested'): Schemas['StepView'] {
  return {
    number,
    kind: 'continuity',
    joined: true,
    mustBe: 'joined',
    sign: '–',
    way: [`W${number}`],
    black: `A:${number}`,
    red: `B:${number}`,
    circuit: null,
    unit: 'ohm',
    limitsText: '40 to 50 mΩ',
    rulerFrom: 0.01,
    rulerTo: 100,
    bands: [
      { from: 0, to: 0.04, verdict: 'fail' },
      { from: 0.04, to: 0.05, verdict: 'pass' },
      { from: 0.05, to: 0.06, verdict: 'cant-tell' },
      { from: 0.06, to: null, verdict: 'fail' },
    ],
    noticedText: null,
    remote: true,
    setup: null,
    phase: 'bare',
    subject: null,
    looks: [],
    standing: sampleStanding(number, state),
  };
}

export const sampleStanding = (step: number, state: Schemas['StepState']): Schemas['StandingView'] => ({
  step,
  state,
  last: null,
  late: null,
  skipped: null,
  carried: null,
  photos: [],
});

export const sampleProgress: Schemas['ProgressView'] = {
  done: 0,
  total: 4,
  failing: 0,
  retests: 0,
  left: '10 s',
  care: null,
  meterInDoubt: false,
  next: 1,
};

export const sampleRun = (states: readonly Schemas['StepState'][], lastEvent = 0): Run => ({
  id: 7,
  jobId: 3,
  revisionId: 5,
  meter,
  isolation: 'neighbours',
  ambientC: 20,
  startedBy: 'Mira Solstad',
  startedAt: '2031-03-04T08:00:00Z',
  steps: states.map((s, i) => sampleStep(i + 1, s)),
  connectors: [],
  progress: sampleProgress,
  position: 1,
  lastEvent,
  unproven: [],
});

export const sampleBench = (run: Run | null): Bench => ({
  run,
  current: null,
  meters: [meter],
  cautions: [],
  loadCautions: [],
});

export const mira = { id: 'mira', name: 'Mira Solstad' };
export const tomas = { id: 'tomas', name: 'Tomas Wren' };

export const sampleReading = (key: string, step = 1, run = 7, person = mira): Waiting => ({
  key,
  jobId: 3,
  runId: run,
  person,
  reading: { key, step, ohms: 0.045, overRange: false, fromMeter: true, takenAt: '2031-03-04T08:00:00Z', seen: 0 },
});
