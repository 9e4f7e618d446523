import { useCallback, useDeferredValue, useMemo, useState } from 'react';
import type { Schemas } from '../../api/client';
import { Grid } from '../../ui/grid/Grid';
import type { Row } from '../../ui/grid/columns';
import { Stem } from '../../ui/Stem';
import type { Mark } from '../../ui/Verdict';
import { AttachDevice } from './AttachDevice';
import { Beside } from './Beside';
import { Conflict } from './Conflict';
import { listOf, withList, withOffer, type ListName } from './document';
import { DraftBar } from './DraftBar';
import { FamiliesTab } from './FamiliesTab';
import { HeadTab } from './HeadTab';
import { marksOf } from './marks';
import { movedAlong } from './moving';
import { NewerRevision } from './NewerRevision';
import { ProblemList } from './ProblemList';
import { tablesOf } from './tables';
import { useDraft } from './useDraft';
import { useDraftStem } from './useDrawn';
import { useLibrary, withFamiliesUsed } from './useLibrary';

export type TabName = ListName | 'loom';

const noMarks = new Map<string, Mark>();

/** Tables of the draft below its stem; faces of what is being worked on beside them. `newest` is the job's newest revision when the draft was fetched. */
export function Editor({ draft, newest }: { draft: Schemas['DraftView']; newest: number }) {
  const hand = useDraft(draft);
  const { file, change } = hand;
  const library = useLibrary();
  const [tab, setTab] = useState<TabName>('wires');
  const [active, setActive] = useState<{ row: Row | undefined; index: number }>({ row: undefined, index: 0 });
  const [notice, setNotice] = useState('');
  const [known, setKnown] = useState(newest);
  const stem = useDraftStem(draft.id, hand.version);
  const shapes = useMemo(() => tablesOf(file, library.ids, library.palette, library.words), [file, library]);
  const marks = useMemo(() => marksOf(hand.problems), [hand.problems]);
  const shape = shapes.find((s) => s.list === tab);
  const titles = useMemo(() => new Map(stem?.titles.map((t) => [t.ref, t.title])), [stem]);
  // What is drawn beside may come a moment later than the cell that one goes to.
  const row = useDeferredValue(active.row);
  const chosen = useMemo(() => placesOf(row), [row]);

  const put = useCallback(
    (list: ListName, rows: readonly Row[], together?: string) =>
      change(withFamiliesUsed(withList(file, list, rows), library), together),
    [file, change, library],
  );
  const pick = useCallback((row: Row | undefined, index: number) => setActive({ row, index }), []);
  const showConnector = useCallback(
    (ref: string | null) => {
      setTab('connectors');
      const index = listOf(file, 'connectors').findIndex((c) => c.ref === ref);
      setActive({ row: listOf(file, 'connectors')[index], index });
    },
    [file],
  );
  const move = useCallback(
    (connector: string, by: number) => change(movedAlong(file, connector, by), `move ${connector}`),
    [file, change],
  );
  const keys = (event: React.KeyboardEvent) => {
    if (!(event.ctrlKey || event.metaKey)) return;
    const key = event.key.toLowerCase();
    if (key === 'z' && !event.shiftKey) hand.undo();
    else if (key === 'y' || (key === 'z' && event.shiftKey)) hand.redo();
    else return;
    event.preventDefault();
  };

  return (
    // eslint-disable-next-line jsx-a11y/no-static-element-interactions -- undo and redo, wherever in the draft the focus is
    <div className="flex min-h-0 flex-1 flex-col" onKeyDown={keys}>
      <div className="border-b-2 border-edge px-4 py-1">
        {stem && (
          <Stem
            stem={stem.stem}
            titles={titles}
            marks={noMarks}
            chosen={chosen}
            onChoose={showConnector}
            onMove={move}
          />
        )}
      </div>
      <NewerRevision known={known} onKnown={setKnown} />
      <DraftBar draft={draft} known={known} hand={hand} tab={tab} onTab={setTab} notice={notice} />
      <Conflict hand={hand} />
      <div className="grid min-h-0 flex-1 grid-cols-1 gap-3 p-3 xl:grid-cols-[1fr_23rem]">
        <div className="flex min-h-96 min-w-0 flex-col gap-2 xl:min-h-0">
          {shape && (
            <Grid
              key={shape.list}
              label={shape.title}
              columns={shape.columns}
              rows={listOf(file, shape.list)}
              marks={marks.get(shape.list) ?? new Map()}
              fresh={shape.fresh}
              onChange={(rows, together) => put(shape.list, rows, together)}
              onActive={pick}
              onNotice={setNotice}
            />
          )}
          {tab === 'families' && <FamiliesTab file={file} library={library} onChange={change} />}
          {tab === 'loom' && <HeadTab file={file} problems={hand.problems} onChange={change} />}
          {tab === 'devices' && <AttachDevice file={file} library={library} onChange={change} />}
          <ProblemList
            problems={hand.problems}
            warnings={hand.warnings}
            offers={hand.offers}
            onTake={(offers) => change(offers.reduce(withOffer, file))}
            empty={listOf(file, 'wires').length === 0 && hand.problems.length === 0}
            onGo={(list) => setTab(list)}
          />
        </div>
        <Beside row={row} draft={draft.id} version={hand.version} />
      </div>
    </div>
  );
}

/** Connectors that a row is about. */
function placesOf(row: Row | undefined): string[] {
  if (!row) return [];
  const ends = [row.from, row.to].flatMap((e) => (typeof e === 'string' ? (e.split(':')[0] ?? []) : []));
  const pins =
    typeof row.pins === 'object' && row.pins !== null
      ? Object.values(row.pins).map((p) => String(p).split(':')[0] ?? '')
      : [];
  return [...ends, ...pins, ...(typeof row.ref === 'string' && 'family' in row ? [row.ref] : [])];
}
