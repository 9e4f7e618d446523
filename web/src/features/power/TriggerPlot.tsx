import type { Schemas } from '../../api/client';

type Log = Schemas['TriggerLogView'];

const width = 900;
const height = 150;
const left = 44;

/** Each trigger's time from edge to edge over time, gaps and odd edges marked; the cam's edges as lines through the crank's. */
export function TriggerPlot({ log }: { log: Log }) {
  const x = (ms: number) => left + (ms / log.ms) * (width - 8 - left);
  const cam = log.triggers.find((t) => t.gaps.length === 0 && t.edgesUs.length > 0 && t.edgesUs.length < 60);
  return (
    <div className="space-y-3 border-t-2 border-edge p-3">
      {log.triggers.map((t) => {
        const times = t.edgesUs
          .slice(1)
          .map((e, i) => ({ at: e / 1000, ms: (e - (t.edgesUs[i] ?? 0)) / 1000, edge: i + 1 }));
        const most = Math.max(1, ...times.map((p) => p.ms));
        const y = (ms: number) => height - 22 - (ms / most) * (height - 30);
        return (
          <figure key={t.device} className="space-y-1">
            <figcaption>
              <b>
                {t.title}, {t.wheel}
              </b>{' '}
              {t.edgesUs.length} edges{t.rpm > 0 && `, ${t.rpm.toFixed(0)} turns a minute`}
              {t.findings.map((f) => (
                <span key={f} className="block text-fail">
                  {f}
                </span>
              ))}
            </figcaption>
            {times.length > 2 && (
              <svg
                viewBox={`0 0 ${width} ${height}`}
                className="w-full border border-line bg-paper"
                role="img"
                aria-label={`Milliseconds from edge to edge of ${t.title}, ${t.gaps.length} gaps, ${t.odd.length} odd edges`}
              >
                {[0, most / 2, most].map((ms) => (
                  <g key={ms}>
                    <line x1={left} x2={width - 8} y1={y(ms)} y2={y(ms)} className="stroke-line" />
                    <text x={left - 4} y={y(ms) + 4} textAnchor="end" className="fill-ink text-[11px]">
                      {ms.toFixed(1)} ms
                    </text>
                  </g>
                ))}
                {cam &&
                  cam !== t &&
                  cam.edgesUs.map((e) => (
                    <line
                      key={e}
                      x1={x(e / 1000)}
                      x2={x(e / 1000)}
                      y1={4}
                      y2={height - 20}
                      className="stroke-copper"
                      strokeDasharray="4 3"
                    />
                  ))}
                {times.map((p) =>
                  t.odd.includes(p.edge) ? (
                    <path
                      key={p.edge}
                      d={`M${x(p.at) - 4} ${y(p.ms) - 4}l8 8m-8 0l8-8`}
                      className="stroke-fail"
                      strokeWidth={2}
                    />
                  ) : t.gaps.includes(p.edge) ? (
                    <rect key={p.edge} x={x(p.at) - 4} y={y(p.ms) - 4} width={8} height={8} className="fill-copper" />
                  ) : (
                    <circle key={p.edge} cx={x(p.at)} cy={y(p.ms)} r={2} className="fill-ink" />
                  ),
                )}
                <text x={left} y={height - 5} className="fill-ink text-[11px]">
                  square: the long gap; cross: an odd edge{cam && cam !== t ? '; dashed: the cam' : ''}
                </text>
              </svg>
            )}
          </figure>
        );
      })}
      {log.sync && log.sync.length === 0 && <p>Cam and crank agree.</p>}
      {log.sync?.map((s) => (
        <p key={s} className="text-fail">
          {s}
        </p>
      ))}
      {log.cylinders && <p>The crank slows {log.cylinders} times in two turns.</p>}
    </div>
  );
}
