import type { Problem, Schemas } from '../../api/client';
import { lists, listOf, type LoomFile } from './document';

/** How the last change stands: kept by the server, on its way, waiting for a server that does not answer, or overtaken by somebody else. */
export type Keeping = 'saved' | 'saving' | 'waiting' | 'overtaken' | 'closed';

/** A draft in hand with what can be undone. */
export interface State {
  file: LoomFile;
  past: LoomFile[];
  future: LoomFile[];
  together: string | undefined;
  keeping: Keeping;
  problems: Problem[];
  warnings: Problem[];
  /** What can be added so that ends of wires are there. */
  offers: Schemas['EndOfferView'][];
  /** Version that the server confirmed last. */
  version: number;
}

export type Act =
  | { do: 'change'; file: LoomFile; together: string | undefined }
  | { do: 'undo' | 'redo' }
  | { do: 'keeping'; keeping: Keeping }
  | { do: 'stored'; stored: Schemas['DraftStored']; all: boolean }
  | { do: 'settle'; file: LoomFile; version: number };

const most = 200;

/** The draft after something was done. */
export function reduce(state: State, act: Act): State {
  switch (act.do) {
    case 'change':
      return {
        ...state,
        file: act.file,
        past: act.together && act.together === state.together ? state.past : [...state.past.slice(-most), state.file],
        future: [],
        together: act.together,
        keeping: state.keeping === 'overtaken' || state.keeping === 'closed' ? state.keeping : 'saving',
      };
    case 'undo': {
      const last = state.past.at(-1);
      return last
        ? {
            ...state,
            file: last,
            past: state.past.slice(0, -1),
            future: [state.file, ...state.future],
            together: undefined,
            keeping: 'saving',
          }
        : state;
    }
    case 'redo': {
      const [next, ...future] = state.future;
      return next
        ? { ...state, file: next, past: [...state.past, state.file], future, together: undefined, keeping: 'saving' }
        : state;
    }
    case 'keeping':
      return { ...state, keeping: act.keeping };
    case 'stored':
      return {
        ...state,
        version: act.stored.version,
        problems: act.stored.problems,
        warnings: act.stored.warnings,
        offers: act.stored.offers,
        keeping: act.all ? 'saved' : 'saving',
      };
    case 'settle':
      return {
        ...state,
        file: act.file,
        past: [...state.past, state.file],
        future: [],
        together: undefined,
        version: act.version,
        keeping: 'saving',
      };
  }
}

const mostRows = 40;

/** The rows that differ, when nothing else does and they are few; null when the whole file must be sent. */
export function changedRows(was: LoomFile, now: LoomFile): Schemas['RowEdit'][] | null {
  const same = (key: string) => was[key] === now[key] || lists.some((l) => l === key);
  if (![...Object.keys(was), ...Object.keys(now)].every(same)) return null;
  const rows: Schemas['RowEdit'][] = [];
  for (const list of lists) {
    const [before, after] = [listOf(was, list), listOf(now, list)];
    if (before === after) continue;
    if (before.length !== after.length) return null;
    after.forEach((row, index) => {
      if (row !== before[index]) rows.push({ list, index, row });
    });
  }
  return rows.length > 0 && rows.length <= mostRows ? rows : null;
}
