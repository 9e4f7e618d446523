import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readingText, readTyped, sentAs, sentValue } from './readings';

describe('what is typed', () => {
  it.each([
    ['72m', 0.072],
    ['0,072', 0.072],
    [' 1.2 ', 1.2],
    ['.5', 0.5],
    ['12k', 12e3],
    ['10M', 10e6],
    ['4.7 Ω', 4.7],
    ['72/', 0.072],
    ['12*', 12e3],
    ['10**', 10e6],
    ['+', null],
    ['1/2', undefined],
    ['*', undefined],
    ['OL', null],
    ['o.l', null],
    ['∞', null],
    ['', undefined],
    ['12x', undefined],
    ['1.2.3', undefined],
    ['-5', undefined],
    ['1e3', undefined],
  ])('%j is read as %j ohms', (text, value) => {
    if (typeof value === 'number') expect(readTyped(text, 'ohm')).toBeCloseTo(value, 9);
    else expect(readTyped(text, 'ohm')).toBe(value);
  });

  it.each([
    ['13.2', 0.0132],
    ['13.2 mV', 0.0132],
    ['1.4V', 1.4],
    ['volts', undefined],
  ])('%j is read as %j volts', (text, value) => {
    if (value === undefined) expect(readTyped(text, 'volt')).toBeUndefined();
    else expect(readTyped(text, 'volt')).toBeCloseTo(value, 9);
  });

  it('what a reading is shown as can be typed, and comes back within the figures shown', () => {
    fc.assert(
      fc.property(fc.double({ min: 1e-4, max: 9e7, noNaN: true }), (ohms) => {
        const typed = readingText(ohms, 'ohm').replace('Ω', '').replace(' ', '');
        const read = readTyped(typed, 'ohm');
        return typeof read === 'number' && Math.abs(read - ohms) <= Math.max(0.006 * ohms, 5.1e-6);
      }),
    );
  });
});

it('over range and nothing are said in words', () => {
  expect([
    readingText(null, 'ohm'),
    readingText(0, 'ohm'),
    readingText(0, 'volt'),
    readingText(0.0704, 'volt'),
  ]).toEqual(['over range', '0 Ω', '0 mV', '70.4 mV']);
});

describe('what is not resistance', () => {
  it.each([
    ['85', 'newton', 85],
    ['84.5 N', 'newton', 84.5],
    ['OL', 'newton', undefined],
    ['1', 'sight', 1],
    ['0', 'sight', 0],
    ['2', 'sight', undefined],
    ['OL', 'volt', null],
  ] as const)('%j in %s is read as %j', (text, unit, value) => {
    expect(readTyped(text, unit)).toBe(value);
  });

  it('is said in its unit', () => {
    expect([readingText(85, 'newton'), readingText(8.4, 'newton'), readingText(0, 'newton')]).toEqual([
      '85 N',
      '8.4 N',
      '0 N',
    ]);
    expect([readingText(1, 'sight'), readingText(0, 'sight')]).toEqual(['as it should be', 'not as it should be']);
  });

  it.each([
    [0.07, 'ohm'],
    [0.6, 'volt'],
    [85, 'newton'],
    [1, 'sight'],
    [0, 'sight'],
  ] as const)('%j in %s is sent in the field of its unit, and comes back from there', (value, unit) => {
    expect(sentValue(sentAs(value, unit))).toEqual({ value, unit });
  });

  it('over range is sent as such', () => {
    expect(sentAs(null, 'volt')).toMatchObject({ overRange: true, volts: null, asItShould: null });
  });
});
