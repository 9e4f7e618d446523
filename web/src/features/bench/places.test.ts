import { expect, it } from 'vitest';
import type { Schemas } from '../../api/client';
import { countedAt, spoken } from './places';

const cell = { cavity: '7', spoken: 'row 2, 2nd from the left' };
const loom = {
  connectors: [{ ref: 'ECU-A', title: 'Controller', wireSide: { cells: [cell] } }],
} as unknown as Schemas['LoomView'];

it('places are said as a person says them, and a probe that stays is said to stay', () => {
  const step = { black: 'ECU-A:7', red: 'INJ3:1', subject: null, unit: 'ohm' as const };
  expect(spoken(step, null, loom)).toBe('Black: Controller, row 2, 2nd from the left. Red: INJ3, cavity 1.');
  expect(spoken(step, { black: 'ECU-A:7', red: 'INJ2:1' }, loom)).toBe('Black stays. Red: INJ3, cavity 1.');
  expect(spoken({ ...step, red: null }, step, loom)).toBe('Black stays. Red: the shorting plug.');
  expect(spoken({ ...step, subject: 'ECU-A Controller', unit: 'sight' }, step, loom)).toBe('Look at ECU-A Controller.');
  expect(spoken({ ...step, subject: '0.5 mm², sample 1 of 2', unit: 'newton' }, step, loom)).toBe(
    'Pull 0.5 mm², sample 1 of 2.',
  );
});

it('what no face has is not counted to', () => {
  expect([countedAt(null, loom), countedAt('ECU-A:99', loom), countedAt('NO:1', loom)]).toEqual(['', '', '']);
});
