import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { useDeferredValue } from 'react';
import { Link, useSearchParams } from 'react-router';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Button, Field, Input, Select } from '../../ui/Controls';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { ShopFrame } from '../../ui/ShopFrame';
import { TableHead } from '../../ui/TableHead';
import { stateWords } from '../faults/words';
import { ReportPlot } from './ReportPlot';

/** Faults of all jobs: what came back, and where; what was done the last time. */
export function FaultLogPage() {
  const [search, setSearch] = useSearchParams();
  const words = search.get('words') ?? '';
  const kind = search.get('kind') ?? '';
  const asked = useDeferredValue(words);
  const report = useQuery({ queryKey: keys.faultReport, queryFn: () => given(api.GET('/api/faults/report')) });
  const list = useInfiniteQuery({
    queryKey: keys.faultLog(asked, kind),
    queryFn: ({ pageParam }) =>
      given(
        api.GET('/api/faults', {
          params: {
            query: { words: asked, ...(kind && { kind }), ...(pageParam !== null && { before: pageParam }) },
          },
        }),
      ),
    initialPageParam: null as string | null,
    getNextPageParam: (last) => last.before,
  });
  const lines = list.data?.pages.flatMap((p) => p.lines) ?? [];
  const set = (name: string, value: string) =>
    setSearch(
      (now) => {
        if (value) now.set(name, value);
        else now.delete(name);
        return now;
      },
      { replace: true },
    );
  return (
    <ShopFrame title="Fault log">
      <div className="space-y-6 p-5">
        <ErrorNotice error={report.error} />
        {report.data && report.data.count > 0 && (
          <section aria-labelledby="back">
            <h2 id="back" className="mb-1 text-2xl font-bold">
              What comes back
            </h2>
            <p className="mb-3 text-soft">
              {report.data.count} {report.data.count === 1 ? 'fault' : 'faults'} of all jobs. How often a kind came
              moves the ranking of causes.
            </p>
            <div className="grid gap-6 xl:grid-cols-2">
              <ReportPlot title="By kind" shares={report.data.kinds} />
              <ReportPlot title="By connector family" shares={report.data.families} />
              <ReportPlot title="By place" shares={report.data.places} />
              <ReportPlot title="By who the job was given to" shares={report.data.builders} />
            </div>
          </section>
        )}
        <section aria-labelledby="all" className="space-y-3">
          <h2 id="all" className="text-2xl font-bold">
            All faults
          </h2>
          <div className="grid max-w-3xl gap-4 sm:grid-cols-[1fr_14rem]">
            <Field label="Search" hint="In what was seen, found and done, and in jobs and looms.">
              <Input type="search" value={words} maxLength={200} onChange={(e) => set('words', e.target.value)} />
            </Field>
            <Field label="Kind">
              <Select value={kind} onChange={(e) => set('kind', e.target.value)}>
                <option value="">all kinds</option>
                {list.data?.pages[0]?.kinds.map((k) => (
                  <option key={k}>{k}</option>
                ))}
              </Select>
            </Field>
          </div>
          <ErrorNotice error={list.error} />
          {list.isPending && <Loading what="the log" />}
          {list.data && lines.length === 0 && (
            <p className="border-2 border-dashed border-edge p-5 text-soft">
              {words || kind
                ? 'No fault is like that.'
                : 'No fault has been logged yet: they come from failing steps at the bench.'}
            </p>
          )}
          {lines.length > 0 && <Lines lines={lines} />}
          {list.hasNextPage && (
            <Button onClick={() => void list.fetchNextPage()} disabled={list.isFetchingNextPage}>
              Older
            </Button>
          )}
        </section>
      </div>
    </ShopFrame>
  );
}

function Lines({ lines }: { lines: Schemas['LogLineView'][] }) {
  return (
    <div className="overflow-x-auto">
      <table className="w-full border-2 border-edge bg-card text-left">
        <TableHead
          names={['When', 'Job', 'What was seen', 'What it was', 'Done', 'Minutes', 'State']}
          cell="px-3 py-1"
        />
        <tbody>
          {lines.map((l) => (
            <tr key={l.key} className="border-b border-line align-top">
              <td className="px-3 py-1 whitespace-nowrap">
                {new Date(l.loggedAt).toLocaleDateString(undefined, { dateStyle: 'medium' })}
                <span className="block text-sm text-soft">{l.loggedBy}</span>
              </td>
              <th scope="row" className="px-3 py-1 font-bold">
                {l.setAside ? (
                  l.machine
                ) : (
                  <Link className="underline" to={`/jobs/${l.job}/faults?fault=${l.number}`}>
                    {l.machine}
                  </Link>
                )}
                <span className="block text-sm font-normal text-soft">
                  {l.loom} {l.revision}
                  {l.setAside && ', a run set aside'}
                </span>
              </th>
              <td className="px-3 py-1">{l.seen}</td>
              <td className="px-3 py-1">
                {l.cause}
                {l.kinds.length > 0 && <span className="block text-sm text-soft">{l.kinds.join(', ')}</span>}
              </td>
              <td className="px-3 py-1">
                {l.did}
                {l.parts && <span className="block text-sm text-soft">{l.parts}</span>}
              </td>
              <td className="px-3 py-1 text-right font-mono">{l.minutes}</td>
              <td className="px-3 py-1 whitespace-nowrap">{stateWords[l.state]}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
