import { useCallback, useEffect, useReducer, useRef } from 'react';
import { api, given, Refused, type Schemas } from '../../api/client';
import type { LoomFile } from './document';
import { changedRows, reduce } from './draftReducer';

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
    offers: draft.offers,
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
