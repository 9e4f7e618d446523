import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cellsOf, textOf } from './clipboard';
import { namesColumn, numberColumn, pinsColumn, rangeColumn, textColumn, type Row } from './columns';
import { countedUp, pasted } from './pasting';

const cell = fc.string({ unit: fc.constantFrom('a', '1', ' ', '"', '\t', '\n', '\r', 'ü', '🪢'), maxLength: 8 });

describe('the clipboard', () => {
  it('gives back every table that was put on it', () => {
    const table = fc
      .integer({ min: 1, max: 4 })
      .chain((width) =>
        fc.array(fc.array(cell, { minLength: width, maxLength: width }), { minLength: 1, maxLength: 5 }),
      )
      // A last line of one empty cell is the line end of the line before: no spreadsheet tells them apart.
      .filter((rows) => !(rows.at(-1)?.length === 1 && rows.at(-1)?.[0] === ''));
    fc.assert(
      fc.property(table, (rows) => {
        expect(cellsOf(textOf(rows))).toEqual(rows);
      }),
    );
  });

  it.each([
    [
      'a\tb\r\nc\td\r\n',
      [
        ['a', 'b'],
        ['c', 'd'],
      ],
    ],
    ['"a\nb"\tc', [['a\nb', 'c']]],
    ['"say ""so"""', [['say "so"']]],
    ['', []],
    ['\t', [['', '']]],
  ])('%j', (text, cells) => expect(cellsOf(text)).toEqual(cells));
});

describe('columns', () => {
  it.each([
    [numberColumn('n', 'N', 10), '12', 12],
    [numberColumn('n', 'N', 10), '0,5', 0.5],
    [numberColumn('n', 'N', 10), 'thick', 'thick'],
    [numberColumn('n', 'N', 10), '  ', undefined],
    [namesColumn('n', 'N', 10), ' 1  2 ', ['1', '2']],
    [rangeColumn('n', 'N', 10), '1 4 10', { min: 1, nominal: 4, max: 10 }],
    [rangeColumn('n', 'N', 10), '4', 4],
    [rangeColumn('n', 'N', 10), '1 2', '1 2'],
    [pinsColumn('n', 'N', 10), '1=INJ1:1 2=INJ1:2', { 1: 'INJ1:1', 2: 'INJ1:2' }],
    [pinsColumn('n', 'N', 10), 'wrong', 'wrong'],
    [textColumn('n', 'N', 10), '', undefined],
  ])('%# %s', (column, text, value) => {
    expect(column.write({ other: 1 }, text)).toEqual(value === undefined ? { other: 1 } : { other: 1, n: value });
  });

  it('what a column shows can be typed again and means the same', () => {
    const columns = [
      numberColumn('n', '', 1),
      namesColumn('n', '', 1),
      rangeColumn('n', '', 1),
      pinsColumn('n', '', 1),
    ];
    fc.assert(
      fc.property(fc.constantFrom(...columns), fc.string({ maxLength: 12 }), (column, text) => {
        const once = column.write({}, text);
        expect(column.write({}, column.read(once))).toEqual(once);
      }),
    );
  });
});

describe('pasting', () => {
  const columns = [
    textColumn('wire', 'Wire', 10, { also: ['id'] }),
    textColumn('from', 'From', 10),
    numberColumn('mm2', 'mm²', 10),
  ];
  const fresh = (rows: readonly Row[]): Row => ({ wire: `W${rows.length + 1}` });

  it('goes by heads when the first row names them, in whatever order', () => {
    const { rows, count } = pasted('mm²\tID\n0.5\tW9\n1\tW10', [{ wire: 'W1' }], columns, { row: 0, column: 0 }, fresh);
    expect(count).toBe(2);
    expect(rows).toEqual([
      { wire: 'W9', mm2: 0.5 },
      { wire: 'W10', mm2: 1 },
    ]);
  });

  it('otherwise lies from the cell where one stands, and adds rows as needed', () => {
    const { rows } = pasted('A:1\t0.5\nA:2\t1', [{ wire: 'W1', note: 'kept' }], columns, { row: 0, column: 1 }, fresh);
    expect(rows).toEqual([
      { wire: 'W1', note: 'kept', from: 'A:1', mm2: 0.5 },
      { wire: 'W2', from: 'A:2', mm2: 1 },
    ]);
  });

  it('never shortens a table and leaves rows outside it alone', () => {
    fc.assert(
      fc.property(
        fc.array(fc.array(cell, { minLength: 1, maxLength: 5 }), { maxLength: 4 }),
        fc.nat(4),
        fc.nat(2),
        (cells, row, column) => {
          const before: Row[] = [{ wire: 'W1' }, { wire: 'W2' }, { wire: 'W3' }];
          const { rows, count } = pasted(textOf(cells), before, columns, { row, column }, fresh);
          const touched = new Set(Array.from({ length: count }, (_, i) => Math.min(row, before.length) + i));
          return rows.length >= before.length && before.every((r, i) => touched.has(i) || rows[i] === r);
        },
      ),
    );
  });

  it.each([
    ['W9', 'W10'],
    ['A:07', 'A:08'],
    ['S1-B', 'S2-B'],
    ['none', 'none'],
  ])('filling down counts %s up to %s', (a, b) => expect(countedUp(a)).toBe(b));
});
