import { useState } from 'react';
import { Button } from '../../ui/Controls';
import { Notice } from '../../ui/Notice';
import { linkOf } from './welcome';

/** A one-time link that was just made, and whom it is for. */
export interface Link {
  name: string;
  code: string;
  expires: string;
}

/** A one-time link is shown this once: it is known nowhere else. */
export function LinkNotice({ link, onDone }: { link: Link; onDone: () => void }) {
  const [copied, setCopied] = useState(false);
  const address = linkOf(link.code);
  return (
    <Notice tone="mind">
      <p className="text-lg">
        <b>The link for {link.name}</b>, shown this once. Give it to nobody else: whoever opens it first sets the
        password. Open until{' '}
        {new Date(link.expires).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' })}.
      </p>
      <p className="my-2 font-mono break-all" data-testid="link">
        {address}
      </p>
      <span className="flex gap-3">
        <Button onClick={() => void navigator.clipboard.writeText(address).then(() => setCopied(true))}>
          {copied ? 'Copied' : 'Copy the link'}
        </Button>
        <Button onClick={onDone}>I have it</Button>
      </span>
    </Notice>
  );
}
