import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useDeferredValue } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Button, Input } from '../../ui/Controls';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { ShopFrame } from '../../ui/ShopFrame';
import { TableHead } from '../../ui/TableHead';
import { Trust } from './Trust';
import { sources } from './words';

/** The shop's pinout sheets: where each came from, how far it can be trusted, and a search by function across all. */
export function BookPage() {
  const [search, setSearch] = useSearchParams();
  const client = useQueryClient();
  const navigate = useNavigate();
  const q = search.get('q') ?? '';
  const asked = useDeferredValue(q);
  const sheets = useQuery({ queryKey: keys.sheets, queryFn: () => given(api.GET('/api/sheets')) });
  const add = useMutation({
    mutationFn: () =>
      given(
        api.POST('/api/sheets', {
          body: { title: 'New sheet', source: 'supplier-sheet', sourceNote: '', connectors: [], lines: [] },
        }),
      ),
    onSuccess: async (sheet) => {
      await client.invalidateQueries({ queryKey: keys.sheets });
      await navigate(`/book/${sheet.id}`);
    },
  });
  return (
    <ShopFrame title="Pinout book" note="which pin is what, and who says so">
      <div className="mx-auto w-full max-w-7xl space-y-4 p-5">
        <div className="flex flex-wrap items-center gap-4">
          <div className="w-96">
            <Input
              aria-label="Find a function on any sheet"
              placeholder="A function: coolant temperature, inj 3 …"
              value={q}
              onChange={(e) => setSearch(e.target.value ? { q: e.target.value } : {}, { replace: true })}
            />
          </div>
          <span className="ml-auto">
            <Button changes kind="main" onClick={() => add.mutate()} disabled={add.isPending}>
              New sheet
            </Button>
          </span>
        </div>
        <ErrorNotice error={sheets.error ?? add.error} />
        {sheets.isPending && <Loading what="the book" />}
        {asked.trim() ? <Hits q={asked} /> : <Sheets sheets={sheets.data ?? []} />}
      </div>
    </ShopFrame>
  );
}

function Sheets({ sheets }: { sheets: readonly Schemas['SheetEntry'][] }) {
  if (sheets.length === 0) {
    return (
      <p className="border-2 border-dashed border-edge p-10 text-center text-lg">
        No sheet yet. Make the first one and paste its lines from a spreadsheet or a print.
      </p>
    );
  }
  return (
    <ul className="grid gap-3">
      {sheets.map((s) => (
        <li key={s.id}>
          <Link
            to={`/book/${s.id}`}
            className="grid grid-cols-[minmax(0,2.2fr)_minmax(0,1.6fr)_8rem_minmax(0,1.4fr)] items-center gap-4 border-2 border-edge bg-card px-4 py-3 hover:border-copper"
          >
            <span className="min-w-0">
              <span className="block text-lg font-bold">{s.title}</span>
              <span className="block truncate font-mono text-sm text-soft">{s.plugs.join(' ') || 'no plug yet'}</span>
            </span>
            <span className="min-w-0">
              {sources[s.source] ?? s.source}
              <span className="block truncate text-sm text-soft">{s.sourceNote}</span>
            </span>
            <span>
              <span className="font-mono text-xl">{s.lines}</span> lines
            </span>
            <Confirmed of={s.confirmed} all={s.lines} />
          </Link>
        </li>
      ))}
    </ul>
  );
}

function Confirmed({ of, all }: { of: number; all: number }) {
  return (
    <span>
      <span className="block h-2.5 border border-edge bg-well">
        <span className="block h-full bg-ink" style={{ width: `${all > 0 ? (100 * of) / all : 0}%` }} />
      </span>
      <span className="text-sm text-soft">
        {of} of {all} lines confirmed
      </span>
    </span>
  );
}

function Hits({ q }: { q: string }) {
  const hits = useQuery({
    queryKey: keys.sheetSearch(q),
    queryFn: () => given(api.GET('/api/sheets/search', { params: { query: { q } } })),
  });
  if (hits.isPending) return <Loading what="what fits" />;
  if (hits.isError) return <ErrorNotice error={hits.error} />;
  return (
    <section aria-label="What was found" className="overflow-x-auto">
      <p className="mb-2 text-soft">
        {hits.data.length} {hits.data.length === 1 ? 'line' : 'lines'} on all sheets, synonyms counted.
      </p>
      {hits.data.length > 0 && (
        <table className="w-full border-2 border-edge bg-card text-left">
          <TableHead names={['Function', 'Sheet', 'Cavity', 'Kind', 'Trust']} cell="px-3 py-1" />
          <tbody>
            {hits.data.map((h) => (
              <tr key={`${h.sheetId}${h.line.connector}${h.line.cavity}`} className="border-b border-line">
                <th scope="row" className="px-3 py-1.5 font-bold">
                  {h.line.function}
                </th>
                <td className="px-3">
                  <Link className="underline" to={`/book/${h.sheetId}?at=${h.line.connector}:${h.line.cavity}`}>
                    {h.sheet}
                  </Link>
                </td>
                <td className="px-3 font-mono">
                  {h.line.connector}:{h.line.cavity}
                </td>
                <td className="px-3">{h.role}</td>
                <td className="px-3">
                  <Trust vouched={h.vouched} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
