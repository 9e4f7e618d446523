import type { ReactNode } from 'react';

/** A part of a page that scrolls by itself; it takes the focus, so that it scrolls by keyboard too. */
export function Scroll({
  label,
  className = '',
  children,
}: {
  label: string;
  className?: string;
  children: ReactNode;
}) {
  return (
    // eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex -- arrow keys scroll what has the focus
    <div role="region" aria-label={label} tabIndex={0} className={`overflow-auto ${className}`}>
      {children}
    </div>
  );
}
