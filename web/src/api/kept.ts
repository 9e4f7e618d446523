/** What the server said last is kept in this browser under this name, until somebody signs in or out. */
export const keptCache = 'wise-loom-kept';

/** Stands on an answer that is not the server's of now. */
export const keptHeader = 'X-Wise-Loom-Kept';

/** A server that has not answered for so long is taken as away. */
export const secondsBeforeKept = 10;

/** What a bench needs to go on without a server; papers, files and lists of the shop are not kept. */
const kept = [
  /^\/api\/session$/,
  /^\/api\/vocabulary$/,
  /^\/api\/jobs\/\d+$/,
  /^\/api\/jobs\/\d+\/bench$/,
  /^\/api\/revisions\/\d+\/loom$/,
  /^\/api\/runs\/\d+\/(way|people|care)$/,
];

export const isKept = (path: string) => kept.some((k) => k.test(path));

/** Says when everything was forgotten last, so that an answer asked for before is not kept after it. */
const forgottenCache = 'wise-loom-forgotten';
const forgottenAt = '/forgotten';

/** Forgets everything that was kept: it is one person's. An answer that is still under way is dropped by `dropIfForgotten`. */
export async function forgetKept() {
  if (!('caches' in globalThis)) return;
  try {
    await (await caches.open(forgottenCache)).put(forgottenAt, new Response(String(Date.now())));
    await caches.delete(keptCache);
  } catch {
    // Storage is refused: nothing was kept.
  }
}

/** Takes an answer out again that was asked for (`began`, in ms) before everything was forgotten, and kept only after it. */
export async function dropIfForgotten(asked: Request | string, began: number) {
  const said = await (await caches.open(forgottenCache)).match(forgottenAt);
  if (said && Number(await said.text()) >= began) await (await caches.open(keptCache)).delete(asked);
}

/** Keeps what a page knows by now in place of what the server said when it was asked. */
export async function keepInstead(path: string, known: unknown) {
  if (!('caches' in globalThis) || !isKept(path)) return;
  try {
    const cache = await caches.open(keptCache);
    // Only what is kept already: a browser that cannot keep the page has no use for its data.
    if (!(await cache.match(path))) return;
    await cache.put(path, new Response(JSON.stringify(known), { headers: { 'Content-Type': 'application/json' } }));
  } catch {
    // Storage is refused: the page then says so where readings are concerned.
  }
}
