import { useEffect } from 'react';

/** Says in the browser's tab and in its history where one is, the nearest first: Bench · Tower fan 2 · Wise Loom. */
export function usePageTitle(...parts: (string | undefined)[]) {
  const title = [...parts, 'Wise Loom'].filter(Boolean).join(' · ');
  useEffect(() => {
    document.title = title;
  }, [title]);
}
