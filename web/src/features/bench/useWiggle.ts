import { useCallback, useEffect, useRef, useState } from 'react';
import { carried, Refused } from '../../api/client';

/** More of a trace, as the server tells it. */
export interface Wiggle {
  samples: { ms: number; ohms: number | null; fails: boolean }[];
  seconds: number;
  breaks: number;
  broken: boolean;
  seesSeconds: number;
  worst: number | null;
  worstOverRange: boolean;
  words: string;
  trouble: string | null;
}

/** So many samples are drawn: the latest. */
const mostDrawn = 1500;

/** Reads a step again and again while the loom is flexed, until it is stopped. */
export function useWiggle(run: number, step: number) {
  const [trace, setTrace] = useState<{ latest: Wiggle | null; drawn: Wiggle['samples'] }>({ latest: null, drawn: [] });
  const [running, setRunning] = useState(true);
  const [error, setError] = useState<unknown>(null);
  const stop = useRef<AbortController | null>(null);
  useEffect(() => {
    const ended = new AbortController();
    stop.current = ended;
    follow(run, step, ended.signal, (more) =>
      setTrace((now) => ({ latest: more, drawn: [...now.drawn, ...more.samples].slice(-mostDrawn) })),
    )
      .catch((e: unknown) => {
        if (!ended.signal.aborted) setError(e);
      })
      .finally(() => {
        if (!ended.signal.aborted) setRunning(false);
      });
    return () => ended.abort();
  }, [run, step]);
  const end = useCallback(() => {
    stop.current?.abort();
    setRunning(false);
  }, []);
  return { ...trace, running, error, end };
}

async function follow(run: number, step: number, signal: AbortSignal, tell: (more: Wiggle) => void) {
  const answer = await fetch(`/api/runs/${run}/wiggle`, {
    method: 'POST',
    headers: carried({ 'Content-Type': 'application/json' }),
    body: JSON.stringify({ step }),
    signal,
  });
  if (!answer.ok || !answer.body) {
    const problem = (await answer.json().catch(() => null)) as { title?: string } | null;
    throw new Refused(answer.status, problem?.title ?? `The server answered ${answer.status}.`, [], '');
  }
  const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader();
  let rest = '';
  for (;;) {
    const { value, done } = await reader.read();
    if (done) return;
    const messages = (rest + value).split('\n\n');
    rest = messages.pop() ?? '';
    for (const message of messages) {
      const data = message.split('\n').find((l) => l.startsWith('data:'));
      if (data) tell(JSON.parse(data.slice(5)) as Wiggle);
    }
  }
}
