import { useMutation } from '@tanstack/react-query';
import { useRef } from 'react';
import { uuidv7 } from '../api/uuid';
import { Button } from './Controls';
import { ErrorNotice } from './Notice';

/** A button that takes photos, from a camera where there is one, and sends them one after the other. */
export function AddPhotos({
  label,
  send,
  onSettled,
  className,
}: {
  /** What is chosen, for a reader who does not see it. */
  label: string;
  /** Sends one; the key names it, however often it is sent. */
  send: (file: File, key: string) => Promise<unknown>;
  onSettled?: () => Promise<unknown>;
  className?: string;
}) {
  const input = useRef<HTMLInputElement>(null);
  const add = useMutation({
    mutationFn: async (files: File[]) => {
      for (const file of files) await send(file, uuidv7());
    },
    onSettled: () => onSettled?.(),
  });
  return (
    <>
      <input
        ref={input}
        type="file"
        accept="image/jpeg,image/png,image/webp"
        multiple
        className="sr-only"
        aria-label={label}
        tabIndex={-1}
        onChange={(e) => {
          const files = [...(e.target.files ?? [])];
          e.target.value = '';
          if (files.length > 0) add.mutate(files);
        }}
      />
      <Button changes onClick={() => input.current?.click()} disabled={add.isPending} className={className}>
        {add.isPending ? 'Sending …' : 'Add a photo'}
      </Button>
      <ErrorNotice error={add.error} />
    </>
  );
}
