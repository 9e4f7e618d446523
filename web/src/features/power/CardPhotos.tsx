import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useRef } from 'react';
import { sendFile, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { uuidv7 } from '../../api/uuid';
import { Button } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';
import type { Check } from './words';

/** Photos of what a check looks at. */
export function CardPhotos({ run, job, check }: { run: number; job: number; check: Check }) {
  const input = useRef<HTMLInputElement>(null);
  const client = useQueryClient();
  const add = useMutation({
    mutationFn: async (files: File[]) => {
      for (const file of files)
        await sendFile<Schemas['CheckPhotoStoredView']>(
          `/api/runs/${run}/photos/${uuidv7()}?check=${encodeURIComponent(check.id)}`,
          file,
        );
    },
    onSettled: () => client.invalidateQueries({ queryKey: keys.powerUp(job) }),
  });
  return (
    <div className="flex flex-wrap items-center gap-3">
      {check.photos.map((key, i) => (
        <a key={key} href={`/api/runs/${run}/photos/${key}`} target="_blank" rel="noreferrer">
          <img
            src={`/api/runs/${run}/photos/${key}?small=true`}
            alt={`${check.do} (${i + 1})`}
            className="h-20 border-2 border-edge"
          />
        </a>
      ))}
      <input
        ref={input}
        type="file"
        accept="image/jpeg,image/png,image/webp"
        multiple
        hidden
        aria-label="Photos of this check"
        onChange={(e) => {
          add.mutate([...(e.target.files ?? [])]);
          e.target.value = '';
        }}
      />
      <Button changes disabled={add.isPending} onClick={() => input.current?.click()}>
        {add.isPending ? 'Sending …' : 'Add a photo'}
      </Button>
      <ErrorNotice error={add.error} />
    </div>
  );
}
