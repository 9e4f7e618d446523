import type { ReactNode } from 'react';
import { Frame } from './Frame';

const pages = [
  { to: '/', label: 'Jobs' },
  { to: '/book', label: 'Pinout book' },
  { to: '/compare', label: 'Compare' },
  { to: '/merges', label: 'Merge' },
  { to: '/library', label: 'Library' },
  { to: '/limits', label: 'Limits' },
];

/** Frame of a page of the shop. */
export function ShopFrame({ title, note, children }: { title: string; note?: ReactNode; children: ReactNode }) {
  return (
    <Frame title={title} note={note} tabs={pages} tabsLabel="Pages of the shop">
      {children}
    </Frame>
  );
}
