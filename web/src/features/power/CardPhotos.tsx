import { useQueryClient } from '@tanstack/react-query';
import { sendFile, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { AddPhotos } from '../../ui/AddPhotos';
import type { Check } from './words';

/** Photos of what a check looks at. */
export function CardPhotos({ run, job, check }: { run: number; job: number; check: Check }) {
  const client = useQueryClient();
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
      <AddPhotos
        label="Photos of this check"
        send={(file, key) =>
          sendFile<Schemas['CheckPhotoStoredView']>(
            `/api/runs/${run}/photos/${key}?check=${encodeURIComponent(check.id)}`,
            file,
          )
        }
        onSettled={() => client.invalidateQueries({ queryKey: keys.powerUp(job) })}
      />
    </div>
  );
}
