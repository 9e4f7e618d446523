import type { Schemas } from '../../api/client';
import type { Mark } from '../../ui/Verdict';

export type View = Schemas['PowerUpView'];
export type Stage = Schemas['PowerUpStageView'];
export type Check = Schemas['PowerUpCheckView'];

/** A check's state in the shapes that verdicts have everywhere. */
export const markOf = (state: Check['state']): Mark =>
  state === 'passed' ? 'pass' : state === 'failed' ? 'fail' : state === 'again' ? 'retest' : 'not-tested';

/** A stage's state in the same shapes. */
export const markOfStage = (stage: Stage): Mark =>
  stage.failed > 0 || stage.failedBefore.length > 0
    ? 'fail'
    : stage.again > 0
      ? 'retest'
      : stage.state === 'passed'
        ? 'pass'
        : stage.state === 'waived'
          ? 'skipped'
          : 'not-tested';

export const schoolWords: Record<string, string> = {
  bench: 'on the bench, without an engine',
  'test-engine': 'on a test engine',
  vehicle: 'in the vehicle',
};

/** The check to stand at: the one asked for, else the first of the open stage that is not passed. */
export function standingAt(stages: Stage[], current: number | null, asked: string | null): Check | undefined {
  const all = stages.flatMap((s) => s.checks);
  const wanted = all.find((c) => c.id === asked);
  if (wanted) return wanted;
  const open = stages.find((s) => s.number === current) ?? stages[0];
  return open?.checks.find((c) => c.state !== 'passed') ?? open?.checks[0];
}

/** The check after one, in its stage and then in the next. */
export function after(stages: Stage[], check: Check): Check | undefined {
  const all = stages.flatMap((s) => s.checks);
  return all[all.findIndex((c) => c.id === check.id) + 1];
}

/** What a typed figure is; undefined while it is none, null for over range. */
export function figure(text: string, unit: string): number | null | undefined {
  const plain = text.trim().replace(',', '.');
  if (unit === 'Ω' && /^(ol|over range)$/i.test(plain)) return null;
  const of = /^(-?\d*\.?\d+)\s*(m|k|M)?$/.exec(plain);
  if (!of?.[1]) return undefined;
  return Number(of[1]) * ({ m: 1e-3, k: 1e3, M: 1e6 }[of[2] ?? ''] ?? 1);
}
