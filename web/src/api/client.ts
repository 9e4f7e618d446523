import createClient, { type Middleware } from 'openapi-fetch';
import { noticeAlone } from './alone';
import { keptHeader } from './kept';
import type { components, paths } from './schema';

export type Schemas = components['schemas'];

/** One thing that is wrong with what was sent, and where. */
export interface Problem {
  at: string;
  message: string;
}

/** The server's answer that something cannot be done, in words for a person. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    title: string,
    readonly problems: Problem[],
    readonly type: string,
  ) {
    super(title);
  }
}

let token = '';

/** Every change carries the session's token. */
export function carry(next: string) {
  token = next;
}

/** Headers of a change that is not sent by the typed client. */
export const carried = (headers: Record<string, string>) => ({ ...headers, 'X-Wise-Loom-Token': token });

/** Notices when it is not the server that answers. */
const watch: Middleware = {
  onResponse({ response }) {
    if (response.headers.has(keptHeader)) noticeAlone();
  },
  onError({ error }) {
    // A question that was withdrawn is no sign of anything.
    if (!(error instanceof DOMException && error.name === 'AbortError')) noticeAlone();
  },
};

const carryToken: Middleware = {
  onRequest({ request }) {
    if (request.method !== 'GET') request.headers.set('X-Wise-Loom-Token', token);
    return request;
  },
};

export const api = createClient<paths>({ baseUrl: '/', cache: 'no-store' });
api.use(carryToken, watch);

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** The data of an answer; throws {@link Refused} with the server's own words otherwise. */
export async function given<T>(answer: Promise<Answer<T>>): Promise<T> {
  const { data, error, response } = await answer;
  if (response.ok) return data as T;
  throw refusal(response.status, error);
}

function refusal(status: number, body: unknown): Refused {
  const { title, detail, problems, type } = (typeof body === 'object' && body !== null ? body : {}) as {
    title?: string;
    detail?: string;
    problems?: Problem[];
    type?: string;
  };
  const words = [title, detail].filter(Boolean).join(' ');
  return new Refused(status, words || `The server answered ${status}.`, problems ?? [], type ?? '');
}

/** For what somebody's typing begins from: fetched each time its page is opened, and then only when that person asks, so that a line that
 *  comes back takes nothing away that was typed. */
export const begunFrom = { staleTime: Infinity, gcTime: 0 } as const;

/** Sends a form with a file in it. */
export async function sendForm<T>(path: string, form: FormData): Promise<T> {
  const response = await fetch(path, { method: 'POST', headers: carried({}), body: form });
  const body: unknown = await response.json().catch(() => null);
  if (!response.ok) throw refusal(response.status, body);
  return body as T;
}

/** Sends a file as it is, and takes one back under the name that the server gives it. */
export async function sendFileForFile(path: string, file: Blob): Promise<{ blob: Blob; name: string }> {
  const response = await fetch(path, {
    method: 'POST',
    headers: carried({ 'Content-Type': 'application/octet-stream' }),
    body: file,
  });
  if (!response.ok) throw refusal(response.status, await response.json().catch(() => null));
  const named = /filename\*=UTF-8''([^;]+)/.exec(response.headers.get('Content-Disposition') ?? '')?.[1];
  return { blob: await response.blob(), name: named ? decodeURIComponent(named) : 'results' };
}

/** Sends a file as it is. */
export async function sendFile<T>(path: string, file: Blob, type = 'application/octet-stream'): Promise<T> {
  const response = await fetch(path, {
    method: 'POST',
    headers: carried({ 'Content-Type': type }),
    body: file,
  });
  const body: unknown = await response.json().catch(() => null);
  if (!response.ok) throw refusal(response.status, body);
  return body as T;
}
