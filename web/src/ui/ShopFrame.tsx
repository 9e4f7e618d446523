import type { ReactNode } from 'react';
import { shopPages } from '../pages';
import { Frame } from './Frame';

const tabs = shopPages.flatMap((p) => (p.label ? [{ to: p.path, label: p.label }] : []));

/** Frame of a page of the shop. */
export function ShopFrame({ title, note, children }: { title: string; note?: ReactNode; children: ReactNode }) {
  return (
    <Frame title={title} note={note} tabs={tabs} tabsLabel="Pages of the shop">
      {children}
    </Frame>
  );
}
