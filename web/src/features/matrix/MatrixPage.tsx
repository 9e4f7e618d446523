import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Button, Key } from '../../ui/Controls';
import { ErrorNotice, Loading } from '../../ui/Notice';
import { MarkShape } from '../../ui/Verdict';
import { usePageKeys } from '../../ui/usePageKeys';
import { useBench, useJob } from '../jobs/JobShell';
import { MatrixCanvas } from './MatrixCanvas';
import { cellAt, cellWords, matrixOf } from './matrixModel';

/** Sides of a cell, from the whole at a glance to one that can be read. */
const sides = [2, 4, 7, 11, 16, 24];

/** Points by points: what the drawing joins, what was read, and the figures that failing readings draw. */
export function MatrixPage() {
  const { job } = useJob();
  const bench = useBench(job.id);
  const run = bench.data?.run;
  const matrix = useQuery({
    // Readings change what the patterns are, so it is asked for again with each event of the run that fails a step or mends one.
    queryKey: keys.matrix(job.id, run?.id ?? 0, run?.progress.failing ?? 0, run?.progress.retests ?? 0),
    queryFn: () => given(api.GET('/api/runs/{id}/matrix', { params: { path: { id: run?.id ?? 0 } } })),
    enabled: run !== undefined && run !== null,
    placeholderData: (before) => before,
  });
  if (bench.isError) return <ErrorNotice error={bench.error} />;
  if (bench.data && !run) {
    return (
      <p className="m-6 border-2 border-dashed border-edge p-6 text-lg">
        The matrix shows what was read between each two places. This loom has not been on the bench.{' '}
        <Link className="underline" to={`/jobs/${job.id}/bench`}>
          To the bench
        </Link>
      </p>
    );
  }
  if (matrix.isError) return <ErrorNotice error={matrix.error} />;
  if (!matrix.data || !run) return <Loading what="the matrix" />;
  return <Matrix jobId={job.id} matrix={matrix.data} steps={run.steps} />;
}

function Matrix({
  jobId,
  matrix,
  steps,
}: {
  jobId: number;
  matrix: Schemas['MatrixView'];
  steps: readonly Schemas['StepView'][];
}) {
  const { at } = useJob();
  const go = useNavigate();
  const [search, setSearch] = useSearchParams();
  const model = useMemo(() => matrixOf(matrix, steps), [matrix, steps]);
  const place = (name: string) => Math.max(0, matrix.points.indexOf(search.get(name) ?? ''));
  const begin = useMemo(() => beginning(matrix, steps, at), [matrix, steps, at]);
  const row = search.has('row') ? place('row') : begin[0];
  const column = search.has('column') ? place('column') : begin[1];
  const cursor = useMemo(() => [row, column] as const, [row, column]);
  const cell = sides[Math.min(sides.length - 1, Math.max(0, Number(search.get('size') ?? 3)))] ?? 11;
  const set = (change: Record<string, string>) =>
    setSearch(
      (now) => {
        for (const [name, value] of Object.entries(change)) now.set(name, value);
        return now;
      },
      { replace: true },
    );
  const moveTo = (r: number, c: number) => set({ row: matrix.points[r] ?? '', column: matrix.points[c] ?? '' });
  const sizeBy = (by: number) =>
    set({ size: String(Math.min(sides.length - 1, Math.max(0, sides.indexOf(cell) + by))) });
  const outlined = useMemo(
    () =>
      matrix.patterns.flatMap((p) =>
        Array.from({ length: p.cells.length / 2 }, (_, i) => [p.cells[2 * i] ?? 0, p.cells[2 * i + 1] ?? 0] as const),
      ),
    [matrix],
  );
  const outlining = matrix.patterns.find((p) =>
    p.cells.some(
      (c, i) => i % 2 === 0 && ((c === row && p.cells[i + 1] === column) || (c === column && p.cells[i + 1] === row)),
    ),
  );
  const words = `${cellWords(matrix, model, row, column)}${outlining ? `. Metal is found here if it is so: ${outlining.name}` : ''}`;
  const step = cellAt(model, row, column)?.step ?? (row === column ? model.whole.get(row) : undefined);
  const toCard = () => {
    if (step) void go(`/jobs/${jobId}/bench?step=${step.number}`);
  };
  usePageKeys((event, inField) => {
    if (inField) return;
    if (event.key === '+') sizeBy(1);
    if (event.key === '-') sizeBy(-1);
  });
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-3 p-3 max-lg:overflow-y-auto lg:flex-row">
      <div className="flex min-h-[70vh] min-w-0 flex-1 flex-col gap-2 lg:min-h-0">
        <div className="flex flex-wrap items-center gap-2">
          <p className="min-w-0 flex-1 basis-64 text-lg" aria-live="polite" data-testid="cell">
            {words}
          </p>
          {step && (
            <Button kind="main" onClick={toCard}>
              To its card <Key>Enter</Key>
            </Button>
          )}
          <Button aria-label="Smaller cells" onClick={() => sizeBy(-1)}>
            <Key>−</Key>
          </Button>
          <Button aria-label="Larger cells" onClick={() => sizeBy(1)}>
            <Key>+</Key>
          </Button>
        </div>
        <MatrixCanvas
          matrix={matrix}
          model={model}
          cell={cell}
          outlined={outlined}
          at={cursor}
          label={words}
          onAt={moveTo}
          onEnter={toCard}
        />
      </div>
      <aside className="w-full shrink-0 space-y-4 overflow-y-auto lg:w-72" aria-label="Patterns">
        <h2 className="text-2xl font-bold">Patterns</h2>
        {matrix.patterns.length === 0 && (
          <p className="text-soft">
            No failing readings draw one: no contacts exchanged, no run one place along, no plug filled from the wrong
            face.
          </p>
        )}
        <ul className="space-y-3">
          {matrix.patterns.map((p) => (
            <li key={p.name} className="border-2 border-copper bg-card p-3">
              <button
                type="button"
                className="min-h-11 w-full cursor-pointer text-left text-lg font-bold underline"
                onClick={() => moveTo(p.cells[0] ?? 0, p.cells[1] ?? 0)}
              >
                {p.name}
              </button>
              <p className="text-sm">{p.sentence}</p>
            </li>
          ))}
        </ul>
        <ul aria-label="What the cells say" className="space-y-1 border-t border-line pt-3 text-sm">
          {(['pass', 'fail', 'cant-tell', 'not-tested', 'retest'] as const).map((mark) => (
            <li key={mark} className="flex items-center gap-2">
              <MarkShape mark={mark} /> {legend[mark]}
            </li>
          ))}
          <li>· drawn joined, proven by the steps of its circuit</li>
          <li>empty: drawn apart, no step of its own</li>
        </ul>
      </aside>
    </div>
  );
}

/** Where one looks first: at what a pattern outlines, at what fails, at the first step; of the connector that the page is narrowed to. */
function beginning(
  matrix: Schemas['MatrixView'],
  steps: readonly Schemas['StepView'][],
  at: string | null,
): readonly [number, number] {
  const here = (points: readonly (string | null)[]) => !at || points.some((p) => p?.split(':')[0] === at);
  const drawn = matrix.patterns.find((p) => !at || p.connector === at)?.cells;
  if (drawn?.[0] !== undefined && drawn[1] !== undefined) return [drawn[0], drawn[1]];
  const pairs = steps.filter((s) => s.red !== null && here([s.black, s.red]));
  const step = pairs.find((s) => s.standing.state === 'fail') ?? pairs[0];
  const place = (name: string | null | undefined) => Math.max(0, matrix.points.indexOf(name ?? ''));
  return step ? [place(step.black), place(step.red)] : [0, 0];
}

const legend = {
  pass: 'read, and as it must be',
  fail: 'read, and not as it must be',
  'cant-tell': 'read, the meter cannot tell',
  'not-tested': 'a step without a reading',
  retest: 'to be measured again',
};
