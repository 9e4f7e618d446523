import { describe, expect, it } from 'vitest';
import { read } from './OwnSighting';

const fields = { at: 'ECU:1', other: '', key: 'on' as const, set: [], value: '' };

describe('what the fields of a sighting say', () => {
  it('is nothing while one is empty or makes no sense', () => {
    expect(read({ ...fields, kind: 'volts' })).toBeUndefined();
    expect(read({ ...fields, kind: 'volts', value: 'twelve' })).toBeUndefined();
    expect(read({ ...fields, kind: 'device', value: 'abc' })).toBeUndefined();
    expect(read({ ...fields, kind: 'lamp', value: 'ground' })).toBeUndefined();
    expect(read({ ...fields, kind: 'drop', value: '320 at 2' })).toBeUndefined();
    expect(read({ ...fields, kind: 'capacitance', value: '-1' })).toBeUndefined();
  });

  it('is a sighting of its kind', () => {
    expect(read({ ...fields, kind: 'volts', value: '12,6' })).toMatchObject({
      kind: 'volts',
      at: 'ECU:1',
      volts: 12.6,
    });
    expect(read({ ...fields, kind: 'lamp', value: 'supply dim' })).toMatchObject({ toSupply: true, glow: 'dim' });
    expect(read({ ...fields, kind: 'function', value: 'no' })).toMatchObject({ name: 'ECU:1', works: false });
    expect(read({ ...fields, kind: 'device', value: 'OL' })).toEqual({ kind: 'device', device: 'ECU:1', ohm: null });
    expect(read({ ...fields, kind: 'wire', value: '1.2' })).toEqual({ kind: 'wire', wire: 'ECU:1', ohm: 1.2 });
    expect(read({ ...fields, kind: 'drop', other: 'ECU:2', value: '320 mV @ 2,5 A' })).toEqual({
      kind: 'drop',
      a: 'ECU:1',
      b: 'ECU:2',
      amps: 2.5,
      millivolts: 320,
    });
    expect(read({ ...fields, kind: 'look', value: 'crust' })).toEqual({ kind: 'look', place: 'ECU:1', words: 'crust' });
  });
});
