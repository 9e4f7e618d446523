import type { Schemas } from '../../api/client';

type Range = Schemas['MeterRange'];

/** How a reading comes from a meter. */
export type Way = 'eye' | 'network' | 'serial';

/** A serial port as its form holds it. */
export interface WrittenSerial {
  port: string;
  baud: number;
  parity: Schemas['SerialParity'];
  dataBits: number;
  lineEnd: Schemas['LineEnd'];
  /** Whether it sends a line for each value; otherwise it speaks SCPI. */
  sendsLines: boolean;
  form: string;
  /** Signs for over range, with blanks between them. */
  over: string;
  ask: string;
}

/** A meter as its form holds it: figures as they are typed. */
export interface WrittenMeter {
  name: string;
  profile: string;
  way: Way;
  serial: WrittenSerial;
  host: string;
  port: string;
  matrix: boolean;
  calibrated: string;
  calibrationDue: string;
  retired: boolean;
  fourWire: boolean;
  touchOhms: string;
  leadOhms: string;
  ranges: Record<keyof Range, string>[];
}

export const rangeFields: { of: keyof Range; label: string }[] = [
  { of: 'upToOhms', label: 'Up to, Ω' },
  { of: 'percent', label: '% of reading' },
  { of: 'counts', label: 'digits' },
  { of: 'resolutionOhms', label: 'last digit, Ω' },
];

export const noRange = { upToOhms: '', percent: '', counts: '', resolutionOhms: '' };

function serialOf(serial: Schemas['SerialWay'] | null): WrittenSerial {
  return {
    port: serial?.port ?? '',
    baud: serial?.baud ?? 9600,
    parity: serial?.parity ?? 'none',
    dataBits: serial?.dataBits ?? 8,
    lineEnd: serial?.lineEnd ?? 'lf',
    sendsLines: serial !== null && serial.lines !== null,
    form: serial?.lines?.form ?? '{value} {unit}',
    over: serial?.lines?.over.join(' ') ?? '',
    ask: serial?.lines?.ask ?? '',
  };
}

/** How lines are read, as the server takes it. */
export const patternOf = (s: WrittenSerial): Schemas['LinePattern'] => ({
  form: s.form,
  over: s.over.split(/\s+/).filter(Boolean),
  ask: s.ask,
});

const serialRequest = (s: WrittenSerial): Schemas['SerialWay'] => ({
  port: s.port,
  baud: s.baud,
  parity: s.parity,
  dataBits: s.dataBits,
  lineEnd: s.lineEnd,
  lines: s.sendsLines ? patternOf(s) : null,
});

export function writtenOf(meter: Schemas['InstrumentView'] | null): WrittenMeter {
  const figures = meter?.figures;
  return {
    name: meter?.name ?? '',
    profile: meter?.profile ?? 'hand-two-wire',
    way: meter?.serial ? 'serial' : meter?.host ? 'network' : 'eye',
    serial: serialOf(meter?.serial ?? null),
    host: meter?.host ?? '',
    port: meter?.port?.toString() ?? '',
    matrix: meter?.matrix ?? false,
    calibrated: meter?.calibrated ?? '',
    calibrationDue: meter?.calibrationDue ?? '',
    retired: meter?.retired ?? false,
    fourWire: figures?.fourWire ?? false,
    touchOhms: figures?.touchOhms.toString() ?? '0.1',
    leadOhms: figures?.leadOhms.toString() ?? '0.2',
    ranges: figures?.ranges.map((r) => ({
      upToOhms: r.upToOhms.toString(),
      percent: r.percent.toString(),
      counts: r.counts.toString(),
      resolutionOhms: r.resolutionOhms.toString(),
    })) ?? [noRange],
  };
}

/** What is typed as the server takes it. What is no number becomes one that the server refuses at its place. */
export function requestOf(w: WrittenMeter): Schemas['InstrumentRequest'] {
  const number = (text: string) => {
    const value = Number(text.trim().replace(',', '.'));
    return text.trim() === '' || !Number.isFinite(value) ? -1 : value;
  };
  return {
    name: w.name,
    profile: w.profile,
    host: w.way === 'network' ? w.host.trim() || null : null,
    port: w.way !== 'network' || w.port.trim() === '' ? null : Math.trunc(number(w.port)),
    serial: w.way === 'serial' ? serialRequest(w.serial) : null,
    matrix: w.matrix,
    calibrated: w.calibrated || null,
    calibrationDue: w.calibrationDue || null,
    retired: w.retired,
    figures:
      w.profile === 'own'
        ? {
            fourWire: w.fourWire,
            touchOhms: number(w.touchOhms),
            leadOhms: number(w.leadOhms),
            ranges: w.ranges.map((r) => ({
              upToOhms: number(r.upToOhms),
              percent: number(r.percent),
              counts: number(r.counts),
              resolutionOhms: number(r.resolutionOhms),
            })),
          }
        : null,
  };
}
