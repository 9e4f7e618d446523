import { useSyncExternalStore } from 'react';

export type Light = 'system' | 'day' | 'night';

const key = 'wise-loom-light';
const listeners = new Set<() => void>();
const read = (): Light => {
  const kept = localStorage.getItem(key);
  return kept === 'day' || kept === 'night' ? kept : 'system';
};

function apply(light: Light) {
  if (light === 'system') delete document.documentElement.dataset.light;
  else document.documentElement.dataset.light = light;
}

apply(read());

/** Day, night, or as the machine is set; kept in this browser. */
export function useLight(): [Light, (next: Light) => void] {
  const light = useSyncExternalStore((tell) => {
    listeners.add(tell);
    return () => listeners.delete(tell);
  }, read);
  return [
    light,
    (next) => {
      localStorage.setItem(key, next);
      apply(next);
      listeners.forEach((tell) => tell());
    },
  ];
}
