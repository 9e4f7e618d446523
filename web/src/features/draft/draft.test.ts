import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cavitiesOf, endsOf, freeName, headOf, listOf, withList, withOffer, type LoomFile } from './document';
import { changedRows, reduce, type Act, type State } from './draftReducer';
import { marksOf } from './marks';
import { movedAlong } from './moving';

const fresh = (file: LoomFile): State => ({
  file,
  past: [],
  future: [],
  together: undefined,
  keeping: 'saved',
  problems: [],
  offers: [],
  warnings: [],
  version: 1,
});

const file: LoomFile = {
  loom: { name: 'Fan' },
  families: [{ id: 'two', rows: [['1', null, '2']] }],
  branches: [
    { id: 'trunk', parent: null, lengthMm: 1000 },
    { id: 'side', parent: 'trunk', atMm: 300, lengthMm: 200 },
    { id: 'deep', parent: 'side', atMm: 50, lengthMm: 90 },
  ],
  connectors: [
    { ref: 'A', family: 'two', branch: 'trunk', atMm: 100 },
    { ref: 'B', family: 'two', branch: 'deep', atMm: 10 },
  ],
  splices: [{ ref: 'S1' }],
  wires: [{ id: 'W1' }, { id: 'W3' }],
};

describe('a draft in hand', () => {
  const acts = fc.array(
    fc.oneof(
      fc.record({
        do: fc.constant('change' as const),
        file: fc.nat(50).map((n) => ({ n })),
        together: fc.constantFrom(undefined, 'cell'),
      }),
      fc.record({ do: fc.constantFrom('undo' as const, 'redo' as const) }),
    ),
    { maxLength: 30 },
  );

  it('undoing everything leads back to the start, and redoing it to the end', () => {
    fc.assert(
      fc.property(acts, (all) => {
        const end = all.reduce<State>((s, a) => reduce(s, a), fresh(file));
        let back = end;
        while (back.past.length > 0) back = reduce(back, { do: 'undo' });
        expect(back.file).toBe(file);
        let forth = back;
        while (forth.future.length > 0) forth = reduce(forth, { do: 'redo' });
        const last = end.future.at(-1) ?? end.file;
        expect(forth.file).toBe(last);
      }),
    );
  });

  it('changes that belong together are undone together', () => {
    const typed = (n: number): Act => ({ do: 'change', file: { n }, together: 'wires/0/colour' });
    const state = [typed(1), typed(2), typed(3)].reduce(reduce, fresh(file));
    expect(reduce(state, { do: 'undo' }).file).toBe(file);
  });

  it('is saved only when the server has what stands here', () => {
    const stored = { version: 2, problems: [{ at: '/wires/0', message: 'x' }], warnings: [], offers: [] };
    const changed = reduce(fresh(file), { do: 'change', file: {}, together: undefined });
    expect(changed.keeping).toBe('saving');
    expect(reduce(changed, { do: 'stored', stored, all: false })).toMatchObject({ keeping: 'saving', version: 2 });
    expect(reduce(changed, { do: 'stored', stored, all: true })).toMatchObject({
      keeping: 'saved',
      problems: stored.problems,
    });
    expect(reduce({ ...changed, keeping: 'overtaken' }, { do: 'change', file: {}, together: undefined }).keeping).toBe(
      'overtaken',
    );
    expect(reduce(changed, { do: 'settle', file, version: 5 })).toMatchObject({ version: 5, keeping: 'saving' });
    expect(reduce(changed, { do: 'keeping', keeping: 'closed' }).keeping).toBe('closed');
    expect(reduce(fresh(file), { do: 'undo' })).toEqual(fresh(file));
  });
});

describe('what is sent', () => {
  it('is the rows that changed, or null when the whole file must go', () => {
    const wires = listOf(file, 'wires');
    const one = withList(file, 'wires', [{ id: 'W1', mm2: 1 }, wires[1] ?? {}]);
    expect(changedRows(file, one)).toEqual([{ list: 'wires', index: 0, row: { id: 'W1', mm2: 1 } }]);
    expect(changedRows(file, withList(file, 'wires', [...wires, { id: 'W4' }]))).toBeNull();
    expect(changedRows(file, { ...file, loom: { name: 'Other' } })).toBeNull();
    expect(changedRows(file, file)).toBeNull();
    const many = Array.from({ length: 60 }, (_, i) => ({ id: i }));
    expect(
      changedRows(
        withList(file, 'wires', many),
        withList(
          file,
          'wires',
          many.map((w) => ({ ...w })),
        ),
      ),
    ).toBeNull();
  });
});

describe('the file', () => {
  it('names every place a wire can end, gaps left out', () => {
    expect(endsOf(file)).toEqual(['A:1', 'A:2', 'B:1', 'B:2', 'S1']);
    expect(cavitiesOf(undefined)).toEqual([]);
    expect(headOf({ loom: 5 })).toEqual({});
    expect(listOf({ wires: 'nonsense' }, 'wires')).toEqual([]);
  });

  it('a free name is one that nothing has', () => {
    expect(freeName(listOf(file, 'wires'), 'id', 'W')).toBe('W4');
    fc.assert(
      fc.property(fc.array(fc.nat(20)), (numbers) => {
        const rows = numbers.map((n) => ({ id: `W${n}` }));
        return !rows.some((r) => r.id === freeName(rows, 'id', 'W'));
      }),
    );
  });

  it('a connector on the trunk moves itself, one on a branch moves where its branch leaves the trunk, never off it', () => {
    expect(listOf(movedAlong(file, 'A', 50), 'connectors')[0]).toMatchObject({ atMm: 150 });
    expect(listOf(movedAlong(file, 'A', 5000), 'connectors')[0]).toMatchObject({ atMm: 1000 });
    const moved = movedAlong(file, 'B', -500);
    expect(listOf(moved, 'branches')[1]).toMatchObject({ id: 'side', atMm: 0 });
    expect(listOf(moved, 'connectors')).toBe(listOf(file, 'connectors'));
    expect(movedAlong(file, 'nothing', 5)).toBe(file);
  });

  it('problems are marked by list, row and field; two at one place are both told', () => {
    const marks = marksOf([
      { at: '/wires/3/to', message: 'No such cavity.' },
      { at: '/wires/3/to', message: 'Twice.' },
      { at: '/wires/4', message: 'Row.' },
      { at: '', message: 'File.' },
    ]);
    expect(marks.get('wires')?.get(3)?.get('to')).toBe('No such cavity. Twice.');
    expect(marks.get('wires')?.get(4)?.get('')).toBe('Row.');
    expect(marks.size).toBe(1);
  });

  it('an offered connector comes with its face, and a face with one more pin takes the place of the one before', () => {
    const family = { id: 'pins-1', rows: [['1']] };
    const made = withOffer({ wires: [] }, { connector: { ref: 'ECU', family: 'pins-1' }, family });
    expect(listOf(made, 'connectors')).toHaveLength(1);
    const more = withOffer(made, { connector: null, family: { id: 'pins-1', rows: [['1', '2']] } });
    expect(cavitiesOf(listOf(more, 'families')[0])).toEqual(['1', '2']);
    expect(listOf(more, 'families')).toHaveLength(1);
  });
});
