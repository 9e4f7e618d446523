import type { Schemas } from '../../api/client';

type Range = Schemas['MeterRange'];

/** A meter as its form holds it: figures as they are typed. */
export interface WrittenMeter {
  name: string;
  profile: string;
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

export function writtenOf(meter: Schemas['InstrumentView'] | null): WrittenMeter {
  const figures = meter?.figures;
  return {
    name: meter?.name ?? '',
    profile: meter?.profile ?? 'hand-two-wire',
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
    host: w.host.trim() || null,
    port: w.port.trim() === '' ? null : Math.trunc(number(w.port)),
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
