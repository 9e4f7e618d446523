import { describe, expect, it } from 'vitest';
import { requestOf, writtenOf } from './written';

const view = {
  id: 4,
  name: 'Fixture',
  profile: 'own',
  host: '10.0.0.9',
  port: 5025,
  matrix: true,
  calibrated: '2031-01-02',
  calibrationDue: null,
  retired: false,
  figures: {
    fourWire: true,
    touchOhms: 0.0005,
    leadOhms: 0,
    ranges: [{ upToOhms: 1000000, percent: 0.02, counts: 4, resolutionOhms: 1e-7 }],
  },
  told: '',
  overdue: null,
  lastCheck: null,
  lastCheckPassed: null,
  version: 3,
  answers: true,
  serial: null,
};

describe('a meter in its form', () => {
  it('comes back as it was', () => {
    const { name, profile, host, port, matrix, calibrated, calibrationDue, retired, figures } = view;
    expect(requestOf(writtenOf(view))).toEqual({
      name,
      profile,
      serial: null,
      host,
      port,
      matrix,
      calibrated,
      calibrationDue,
      retired,
      figures,
    });
  });

  it('brings no figures and no address where it has none', () => {
    const request = requestOf({ ...writtenOf(null), name: 'Hand meter' });
    expect(request).toMatchObject({ profile: 'hand-two-wire', host: null, port: null, figures: null });
  });

  it('takes a comma, and makes of what is no number what the server refuses', () => {
    const written = { ...writtenOf(view), touchOhms: '0,05', leadOhms: 'none', port: 'x' };
    expect(requestOf(written)).toMatchObject({ port: -1, figures: { touchOhms: 0.05, leadOhms: -1 } });
  });

  it('comes back as it was from a serial port, with its lines or without', () => {
    const serial = {
      port: '/dev/ttyUSB0',
      baud: 2400,
      parity: 'even' as const,
      dataBits: 7,
      lineEnd: 'cr-lf' as const,
      lines: { form: '{value} {unit}', over: ['OL', '----'], ask: 'READ?' },
    };
    const meter = { ...view, host: null, port: null, matrix: false };
    expect(requestOf(writtenOf({ ...meter, serial }))).toMatchObject({ host: null, port: null, serial });
    expect(requestOf(writtenOf({ ...meter, serial: { ...serial, lines: null } })).serial?.lines).toBeNull();
    // What was typed for one way is not sent with another.
    expect(requestOf({ ...writtenOf({ ...meter, serial }), way: 'eye' })).toMatchObject({ host: null, serial: null });
  });
});
