import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Schemas } from '../../api/client';
import { sampleRun } from '../bench/sample';
import { cellAt, cellWords, matrixOf, tilesInSight } from './matrixModel';

const matrix: Schemas['MatrixView'] = {
  points: ['A:1', 'A:2', 'A:3', 'B:1', 'B:2'],
  nets: [0, 1, -1, 0, 1],
  blocks: [
    { ref: 'A', from: 0, count: 3 },
    { ref: 'B', from: 3, count: 2 },
  ],
  patterns: [],
};

const [pattern] = sampleRun(['not-tested']).steps;
const step = (number: number, black: string, red: string | null, state: Schemas['StepState'], joined: boolean) =>
  ({
    ...pattern,
    number,
    black,
    red,
    joined,
    standing: { step: number, state, last: null, late: null, skipped: null, carried: null },
  }) as Schemas['StepView'];

describe('the matrix of points', () => {
  const model = matrixOf(matrix, [
    step(1, 'A:1', 'B:1', 'pass', true),
    step(2, 'B:2', 'A:1', 'fail', false),
    step(3, 'A:2', null, 'pass', false),
    step(4, 'Z:9', 'A:1', 'pass', false),
  ]);

  it('holds what is drawn joined and what was read, the same on both sides of its diagonal', () => {
    expect(cellAt(model, 0, 3)).toMatchObject({ mark: 'pass', joined: true });
    expect(cellAt(model, 3, 0)).toMatchObject({ mark: 'pass', row: 3, column: 0 });
    expect(cellAt(model, 0, 4)).toMatchObject({ mark: 'fail', joined: false });
    expect(cellAt(model, 1, 4)).toMatchObject({ mark: 'drawn', step: null });
    expect(cellAt(model, 2, 4)).toBeNull();
    expect(model.whole.get(1)?.number).toBe(3);
  });

  it('says what a cell holds', () => {
    expect(cellWords(matrix, model, 0, 4)).toMatch(/^A:1 and B:2: drawn apart, step 2, must read .*: fail$/);
    expect(cellWords(matrix, model, 4, 1)).toContain('proven by the steps of their circuit');
    expect(cellWords(matrix, model, 2, 0)).toContain('no step of their own');
    expect(cellWords(matrix, model, 1, 1)).toMatch(/^A:2 against all others: step 3/);
    expect(cellWords(matrix, model, 0, 9)).toBe('');
  });

  it('is asked for the tiles that cover what is in sight, and for none beyond the whole', () => {
    const side = 512;
    fc.assert(
      fc.property(
        fc.nat(30000),
        fc.nat(30000),
        fc.integer({ min: 1, max: 3000 }),
        fc.integer({ min: 1, max: 40000 }),
        (x, y, w, whole) => {
          const sight = tilesInSight(x, y, w, w, side, whole);
          const last = Math.ceil(whole / side) - 1;
          expect(sight.left).toBeGreaterThanOrEqual(0);
          expect(sight.right).toBeLessThanOrEqual(Math.max(0, last));
          if (x + w <= whole) {
            expect(sight.left * side).toBeLessThanOrEqual(x);
            expect((sight.right + 1) * side).toBeGreaterThanOrEqual(x + w);
          }
          expect(sight.bottom).toBeGreaterThanOrEqual(sight.top);
        },
      ),
    );
  });
});
