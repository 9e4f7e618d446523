import { useCallback, useEffect, useReducer, useRef } from 'react';
import { api, given, Refused, type Problem, type Schemas } from '../../api/client';
import { lists, listOf, type LoomFile } from './document';

/** How the last change stands: kept by the server, on its way, waiting for a server that does not answer, or overtaken by somebody else. */
export type Keeping = 'saved' | 'saving' | 'waiting' | 'overtaken' | 'closed';

interface State {
  file: LoomFile;
  past: LoomFile[];
  future: LoomFile[];
  together: string | undefined;
  keeping: Keeping;
  problems: Problem[];
  warnings: Problem[];
  /** Version that the server confirmed last. */
  version: number;
}

type Act =
  | { do: 'change'; file: LoomFile; together: string | undefined }
  | { do: 'undo' | 'redo' }
  | { do: 'keeping'; keeping: Keeping }
  | { do: 'stored'; stored: Schemas['DraftStored']; all: boolean }
  | { do: 'settle'; file: LoomFile; version: number };

const most = 200;

function reduce(state: State, act: Act): State {
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
function changedRows(was: LoomFile, now: LoomFile): Schemas['RowEdit'][] | null {
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

/** A draft in hand: every change is sent at once, one request at a time, and shown as saved only when the server has said so. */
export function useDraft(draft: Schemas['DraftView']) {
  const [state, act] = useReducer(reduce, {
    file: draft.document as LoomFile,
    past: [],
    future: [],
    together: undefined,
    keeping: 'saved',
    problems: draft.problems,
    warnings: draft.warnings,
    version: draft.version,
  });
  /** What the server has: the file and its version. */
  const kept = useRef<{ file: LoomFile; version: number }>({
    file: draft.document as LoomFile,
    version: draft.version,
  });
  const latest = useRef(state.file);
  const busy = useRef(false);
  const halted = useRef(false);

  const send = useCallback(async () => {
    if (busy.current || halted.current) return;
    busy.current = true;
    try {
      while (latest.current !== kept.current.file) {
        const file = latest.current;
        const to = { params: { path: { id: draft.id } }, headers: { 'If-Match': `"${kept.current.version}"` } };
        const rows = changedRows(kept.current.file, file);
        const stored = await given(
          rows
            ? api.PATCH('/api/drafts/{id}', { ...to, body: { rows } })
            : api.PUT('/api/drafts/{id}', { ...to, body: file }),
        );
        kept.current = { file, version: stored.version };
        act({ do: 'stored', stored, all: latest.current === file });
      }
    } catch (error) {
      const status = error instanceof Refused ? error.status : 0;
      halted.current = status === 412 || status === 409;
      act({ do: 'keeping', keeping: status === 412 ? 'overtaken' : status === 409 ? 'closed' : 'waiting' });
    } finally {
      busy.current = false;
    }
  }, [draft.id]);

  useEffect(() => {
    latest.current = state.file;
    void send();
  }, [state.file, send]);
  useEffect(() => {
    if (state.keeping !== 'waiting') return;
    const again = setInterval(() => void send(), 1500);
    return () => clearInterval(again);
  }, [state.keeping, send]);
  useEffect(() => {
    if (state.keeping === 'saved') return;
    const hold = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener('beforeunload', hold);
    return () => window.removeEventListener('beforeunload', hold);
  }, [state.keeping]);
  return {
    ...state,
    change: useCallback((file: LoomFile, together?: string) => act({ do: 'change', file, together }), []),
    undo: useCallback(() => act({ do: 'undo' }), []),
    redo: useCallback(() => act({ do: 'redo' }), []),
    /** Both sides of a conflict laid together by the server. */
    reconcile: useCallback(
      () =>
        given(
          api.POST('/api/drafts/{id}/reconcile', {
            params: { path: { id: draft.id } },
            body: { start: kept.current.file, mine: latest.current },
          }),
        ),
      [draft.id],
    ),
    /** Goes on from what the other one stored, with the file that was chosen. */
    settle: useCallback((file: LoomFile, now: LoomFile, version: number) => {
      kept.current = { file: now, version };
      halted.current = false;
      act({ do: 'settle', file, version });
    }, []),
  };
}

export type DraftInHand = ReturnType<typeof useDraft>;
