/** The table of pages that the application is built from. Its code is not looked at by the tests' own compiler: it belongs to the pages. */
const table = (await import(new URL('../../web/src/pages.ts', import.meta.url).href)) as Record<'shopPages' | 'jobPages', { path: string; title: string }[]>;

export const { shopPages, jobPages } = table;
