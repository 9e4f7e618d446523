import { useQuery, type UseQueryResult } from '@tanstack/react-query';
import { useId, type ReactNode } from 'react';
import { api, given } from '../../api/client';
import { keys } from '../../api/keys';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { Sheet } from '../../ui/Sheet';

/** The settings sheet beside what the controller has, its codes with their reasons, and the minimum to run. */
export function ExtrasSheet({
  job,
  controller,
  onClose,
}: {
  job: number;
  controller: string | null;
  onClose: () => void;
}) {
  return (
    <Sheet title="Settings, codes, minimum to run" onClose={onClose}>
      <div className="space-y-6">
        <Minimum job={job} />
        {controller && <Codes job={job} controller={controller} />}
        <Settings job={job} controller={controller} />
      </div>
    </Sheet>
  );
}

function Minimum({ job }: { job: number }) {
  const minimum = useQuery({
    queryKey: keys.powerUpExtra(job, 'minimum'),
    queryFn: () => given(api.GET('/api/jobs/{id}/power-up/minimum', { params: { path: { id: job } } })),
  });
  return (
    <Part title="Minimum to run" what="the minimum to run" of={minimum}>
      {(m) => (
        <>
          <p className="text-lg">{m.sentence}</p>
          {m.possible && (
            <table className="w-full text-left">
              <thead>
                <tr className="border-b-2 border-edge">
                  <th>Feed</th>
                  <th>V</th>
                  <th>A at rest</th>
                  <th>A at most</th>
                  <th>Fuse</th>
                </tr>
              </thead>
              <tbody>
                {m.feed.map((f) => (
                  <tr key={f.at} className="border-b border-line font-mono">
                    <td>{f.at}</td>
                    <td>{f.volts}</td>
                    <td>{Number(f.amps.toPrecision(3))}</td>
                    <td>{Number(f.peakAmps.toPrecision(3))}</td>
                    <td>{f.fuseAmps} A</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          {!m.exact && <p className="text-doubt">Not every smaller set was tried: there were too many.</p>}
          {m.leftOut.length > 0 && (
            <p className="text-soft">Not told by it: {m.leftOut.length} wires that carry nothing then.</p>
          )}
        </>
      )}
    </Part>
  );
}

function Codes({ job, controller }: { job: number; controller: string }) {
  const codes = useQuery({
    queryKey: keys.powerUpExtra(job, 'codes', controller),
    queryFn: () =>
      given(api.GET('/api/jobs/{id}/power-up/codes', { params: { path: { id: job }, query: { controller } } })),
    retry: false,
  });
  return (
    <Part title="Stored codes" what="the codes" of={codes}>
      {({ codes: stored, missing }) =>
        stored.length + missing.length === 0 ? (
          <p>None, and none has to be there.</p>
        ) : (
          <ul>
            {stored.map((c) => (
              <li key={c.code} className="border-b border-line py-1">
                <b className="font-mono">{c.code}</b> {c.text}.{' '}
                {c.reason ? (
                  <span className="text-soft">Expected: {c.reason}.</span>
                ) : (
                  <b className="text-fail">To be explained.</b>
                )}
              </li>
            ))}
            {missing.map((c) => (
              <li key={c.code} className="border-b border-line py-1 text-doubt">
                {c.code} is not stored, although {c.reason}.
              </li>
            ))}
          </ul>
        )
      }
    </Part>
  );
}

function Settings({ job, controller }: { job: number; controller: string | null }) {
  const rows = useQuery({
    queryKey: keys.powerUpExtra(job, 'settings', controller),
    queryFn: () =>
      given(
        api.GET('/api/jobs/{id}/power-up/settings', {
          params: { path: { id: job }, query: controller ? { controller } : {} },
        }),
      ),
    retry: false,
  });
  return (
    <Part title="Settings sheet" what="the settings" of={rows}>
      {(needed) =>
        needed.length === 0 ? (
          <p className="text-soft">This loom’s file says nothing that a controller must be set to.</p>
        ) : (
          <table className="w-full text-left">
            <thead>
              <tr className="border-b-2 border-edge">
                <th>Setting</th>
                <th>This loom needs</th>
                <th>The controller has</th>
              </tr>
            </thead>
            <tbody>
              {needed.map((r) => (
                <tr
                  key={r.name}
                  className={`border-b border-line align-top ${r.differs ? 'bg-fail/20' : ''}`}
                  title={r.why}
                >
                  <td className="py-1 pr-3">{r.name}</td>
                  <td className="py-1 pr-3">{r.needed}</td>
                  <td className="py-1">
                    {r.differs ? (
                      <b className="text-fail">differs: {r.reported}</b>
                    ) : (
                      (r.reported ?? <span className="text-soft">not told</span>)
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )
      }
    </Part>
  );
}

/** A part of the sheet: being fetched, refused, or there. */
function Part<T>({
  title,
  what,
  of,
  children,
}: {
  title: string;
  what: string;
  of: UseQueryResult<T>;
  children: (data: T) => ReactNode;
}) {
  const id = useId();
  return (
    <section aria-labelledby={id} className="space-y-2">
      <h3 id={id} className="text-xl font-bold">
        {title}
      </h3>
      {of.isError ? (
        <ErrorNotice error={of.error} />
      ) : of.data === undefined ? (
        <Loading what={what} />
      ) : (
        children(of.data)
      )}
    </section>
  );
}
