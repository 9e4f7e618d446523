import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { percent } from './CauseList';

describe('a share in words', () => {
  it('says no more than is known', () => {
    expect(percent(1)).toBe('> 99 %');
    expect(percent(0.9951)).toBe('> 99 %');
    expect(percent(0.734)).toBe('73 %');
    expect(percent(0.01)).toBe('1 %');
    expect(percent(0.0099)).toBe('< 1 %');
    expect(percent(0)).toBe('< 1 %');
  });

  it('never says that something is certain or out', () =>
    fc.assert(
      fc.property(fc.double({ min: 0, max: 1, noNaN: true }), (share) => {
        expect(percent(share)).not.toBe('0 %');
        expect(percent(share)).not.toBe('100 %');
      }),
    ));
});
