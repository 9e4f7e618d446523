import { useMutation, useMutationState, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { uuidv7 } from '../../api/uuid';

export type Answer = Schemas['Answer'];

/** An answer as it is sent: with its key, so that it can be sent again. */
interface Sent {
  key: string;
  check: string;
  answer: Answer | null;
  controller: string | null;
  note: string | null;
  cautionsSeen: boolean;
  takenAt: string;
}

/** The power-up of a job and what can be done to it. */
export function usePowerUp(job: number) {
  const client = useQueryClient();
  const view = useQuery({
    queryKey: keys.powerUp(job),
    queryFn: () => given(api.GET('/api/jobs/{id}/power-up', { params: { path: { id: job } } })),
  });
  const look = async () => {
    await client.invalidateQueries({ queryKey: keys.powerUp(job) });
    void client.invalidateQueries({ queryKey: keys.faults(job) });
  };
  const seen = view.data?.lastEvent ?? 0;
  // Answers go one after another, each its own: who presses on while one is under way loses neither.
  const answering = ['job', job, 'power-up-answer'];
  const answer = useMutation({
    mutationKey: answering,
    scope: { id: answering.join(' ') },
    gcTime: Infinity,
    mutationFn: (sent: Sent) =>
      given(api.POST('/api/jobs/{id}/power-up/answers', { params: { path: { id: job } }, body: { ...sent, seen } })),
    onSuccess: look,
  });
  const begin = useMutation({
    mutationFn: (body: Schemas['BeginPowerUpRequest']) =>
      given(api.POST('/api/jobs/{id}/power-up', { params: { path: { id: job } }, body })),
    onSuccess: look,
  });
  const pass = useMutation({
    mutationFn: (body: Schemas['PassStageRequest']) =>
      given(api.POST('/api/jobs/{id}/power-up/stages', { params: { path: { id: job } }, body })),
    onSuccess: look,
  });
  const all = useMutationState({
    filters: { mutationKey: answering },
    select: ({ state }) => ({ sent: state.variables as Sent, state: state.status, error: state.error }),
  });
  /** How the last answer to a check fared on its way. */
  const wayOf = (check: string) => all.findLast((a) => a.sent.check === check);
  return {
    view,
    wayOf,
    /** Checks whose last answer could not be sent. */
    unsent: [...new Set(all.map((a) => a.sent.check))].filter((check) => wayOf(check)?.state === 'error'),
    begin,
    pass,
    say: (check: string, of: Partial<Sent>) =>
      answer.mutate({
        key: uuidv7(),
        check,
        answer: null,
        controller: null,
        note: null,
        cautionsSeen: false,
        takenAt: new Date().toISOString(),
        ...of,
      }),
    /** Sends again what could not be sent, under the same key. */
    again: (check: string) => {
      const way = wayOf(check);
      if (way) answer.mutate(way.sent);
    },
  };
}
