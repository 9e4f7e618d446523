import { QueryClient } from '@tanstack/react-query';
import { beforeEach, expect, it, vi } from 'vitest';
import { api } from '../../api/client';
import { keys } from '../../api/keys';
import { followRun, settle } from './followRun';
import type { Answer, Bench, Changes } from './runEvents';
import { sampleBench, sampleProgress, sampleRun, sampleStanding } from './sample';

const job = 4;
const get = vi.spyOn(api, 'GET');
let client: QueryClient;

/** A server that knows what came after the event that is shown. */
function serve(changes: Partial<Changes>) {
  const data: Changes = {
    run: 7,
    steps: [],
    connectors: [],
    progress: sampleProgress,
    lastEvent: 0,
    setAside: null,
    ...changes,
  };
  get.mockResolvedValue({ data, response: new Response() } as never);
}

const asked = () => get.mock.calls.map((call: unknown[]) => (call[1] as { params: { path: object } }).params.path);
const shown = () => client.getQueryData<Bench>(keys.bench(job))?.run;
const stale = () => client.getQueryState(keys.bench(job))?.isInvalidated;

beforeEach(() => {
  get.mockReset();
  client = new QueryClient();
  client.setQueryData(keys.bench(job), sampleBench(sampleRun(['not-tested', 'not-tested'], 4)));
});

it('asks for what came after the last event that is shown, and shows it', async () => {
  serve({ steps: [sampleStanding(2, 'fail')], lastEvent: 6 });
  await followRun(client, job, 7, 6);
  expect(asked()).toEqual([{ id: 7, number: 4 }]);
  expect(shown()?.lastEvent).toBe(6);
  expect(shown()?.steps.map((s) => s.standing.state)).toEqual(['not-tested', 'fail']);
});

it('asks for nothing when it is there already', async () => {
  serve({});
  await followRun(client, job, 7, 4);
  await followRun(client, job, 7, 3);
  expect(asked()).toEqual([]);
  expect(stale()).toBe(false);
});

it('looks at the whole bench again when another run has taken the place', async () => {
  serve({});
  await followRun(client, job, 8, 1);
  expect(asked()).toEqual([]);
  expect(stale()).toBe(true);
});

it('looks at the whole bench again when the run was set aside', async () => {
  serve({ lastEvent: 5, setAside: 'Set aside by Ada Quill.' });
  await followRun(client, job, 7, 5);
  expect(stale()).toBe(true);
});

it('one’s own readings are shown from the answer alone', async () => {
  serve({});
  const answer: Answer = {
    stored: [
      {
        key: 'k1',
        bearing: 'stands',
        standing: sampleStanding(1, 'pass'),
        reading: { key: 'k1', value: 1, text: '', verdict: 'pass', by: 'Mira', at: '', moved: null },
      },
    ],
    refused: [],
    progress: sampleProgress,
    lastEvent: 5,
  };
  await settle(client, job, 7, answer);
  expect(asked()).toEqual([]);
  expect(shown()?.lastEvent).toBe(5);
  expect(shown()?.steps[0]?.standing.state).toBe('pass');
});

it('what somebody else did meanwhile is fetched before it counts as seen', async () => {
  serve({ steps: [sampleStanding(2, 'retest')], lastEvent: 6 });
  await settle(client, job, 7, { stored: [], refused: [], progress: sampleProgress, lastEvent: 6 });
  expect(asked()).toEqual([{ id: 7, number: 4 }]);
  expect(shown()?.steps[1]?.standing.state).toBe('retest');
});
