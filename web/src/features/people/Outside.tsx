import type { ReactNode } from 'react';

/** A page for somebody who is not signed in: one form in the middle. */
export function Outside({ title, children }: { title: string; children: ReactNode }) {
  return (
    <main className="mx-auto grid min-h-screen w-full max-w-xl content-center gap-6 p-6">
      <p className="flex items-center gap-2 text-xl font-bold">
        <img src="/mark.svg" alt="" width="32" height="32" /> Wise Loom
      </p>
      <h1 className="text-3xl font-bold">{title}</h1>
      {children}
    </main>
  );
}
