import { afterEach, describe, expect, it, vi } from 'vitest';
import { dropIfForgotten, forgetKept, isKept, keepInstead, keptCache } from './kept';

/** Caches as a browser has them, as far as they are used here. */
function browserCaches() {
  const all = new Map<string, Map<string, Response>>();
  const open = (name: string) => {
    const held = all.get(name) ?? new Map<string, Response>();
    all.set(name, held);
    return Promise.resolve({
      match: (path: string) => Promise.resolve(held.get(path)?.clone()),
      put: (path: string, response: Response) => {
        held.set(path, response);
        return Promise.resolve();
      },
      delete: (path: string) => Promise.resolve(held.delete(path)),
    });
  };
  return { all, open, delete: (name: string) => Promise.resolve(all.delete(name)) };
}

afterEach(() => vi.unstubAllGlobals());

describe('what is kept for a time without a server', () => {
  it('is what a bench needs, and no paper, no list of the shop, no stream', () => {
    for (const path of ['/api/session', '/api/jobs/4', '/api/jobs/4/bench', '/api/runs/7/way', '/api/revisions/3/loom'])
      expect(isKept(path)).toBe(true);
    for (const path of [
      '/api/jobs',
      '/api/jobs/4/events',
      '/api/jobs/4/handover',
      '/api/packs/1/pdf',
      '/api/accounts',
      '/api/runs/7/readings',
      '/p/secret',
    ])
      expect(isKept(path)).toBe(false);
  });

  it('follows what the page knows, where it is kept at all', async () => {
    const faked = browserCaches();
    vi.stubGlobal('caches', faked);
    await keepInstead('/api/jobs/4/bench', { a: 1 });
    expect(faked.all.get(keptCache)?.size).toBe(0);
    await (await faked.open(keptCache)).put('/api/jobs/4/bench', new Response('{}'));
    await keepInstead('/api/jobs/4/bench', { a: 2 });
    expect(await faked.all.get(keptCache)?.get('/api/jobs/4/bench')?.json()).toEqual({ a: 2 });
  });

  it('is forgotten as a whole', async () => {
    const faked = browserCaches();
    vi.stubGlobal('caches', faked);
    await faked.open(keptCache);
    await forgetKept();
    expect(faked.all.has(keptCache)).toBe(false);
  });

  it('drops an answer that was asked for before everything was forgotten, and no later one', async () => {
    const faked = browserCaches();
    vi.stubGlobal('caches', faked);
    const before = Date.now();
    await dropIfForgotten('/api/session', before);
    await forgetKept();
    const kept = await faked.open(keptCache);
    for (const [began, stays] of [
      [before, false],
      [Date.now() + 1, true],
    ] as const) {
      await kept.put('/api/session', new Response('{}'));
      await dropIfForgotten('/api/session', began);
      expect((await kept.match('/api/session')) !== undefined).toBe(stays);
    }
  });

  it('does nothing where a browser keeps nothing', async () => {
    vi.stubGlobal('caches', { open: () => Promise.reject(new Error('refused')), delete: () => Promise.reject(new Error('refused')) });
    await keepInstead('/api/jobs/4/bench', {});
    await forgetKept();
  });
});
