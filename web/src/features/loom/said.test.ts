import { expect, test } from 'vitest';
import { withCell, withRow } from './said';

test('a cell that is corrected twice is said once', () => {
  const once = withCell({}, 'a', 2, 0, 'ECU:1');
  expect(withCell(once, 'a', 2, 0, 'ECU:2').cells).toEqual([{ sheet: 'a', row: 2, column: 0, text: 'ECU:2' }]);
  expect(withCell(once, 'b', 2, 0, 'ECU:2').cells).toHaveLength(2);
});

test('a row is left out or brought back, never both', () => {
  const out = withRow({}, 'a', 4, true);
  expect(out).toEqual({ struck: [{ sheet: 'a', row: 4 }], kept: [] });
  expect(withRow(out, 'a', 4, false)).toEqual({ struck: [], kept: [{ sheet: 'a', row: 4 }] });
});
