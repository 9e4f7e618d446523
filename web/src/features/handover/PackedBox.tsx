import { useMutation, useQueryClient } from '@tanstack/react-query';
import { api, given, sendFile, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { AddPhotos } from '../../ui/AddPhotos';
import { Button } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';

/** Photos of the box as it was packed, for the list of what is in it. */
export function PackedBox({ job, photos }: { job: number; photos: Schemas['PackingPhotoView'][] }) {
  const client = useQueryClient();
  const done = () => client.invalidateQueries({ queryKey: keys.handover(job) });
  const takeOut = useMutation({
    mutationFn: (key: string) =>
      given(api.DELETE('/api/jobs/{id}/packing-photos/{key}', { params: { path: { id: job, key } } })),
    onSettled: done,
  });
  const address = (key: string) => `/api/jobs/${job}/packing-photos/${key}`;
  return (
    <section aria-labelledby="packed" className="space-y-3 border-2 border-edge bg-card p-4">
      <h2 id="packed" className="text-xl font-bold">
        The packed box
      </h2>
      <p className="text-soft">
        {photos.length === 0
          ? 'No photo yet. Take one before the lid is closed: the pack shows it beside what is in the box.'
          : 'The next pack shows this beside what is in the box. A pack that is signed keeps what it had.'}
      </p>
      {photos.length > 0 && (
        <ul className="flex flex-wrap gap-4">
          {photos.map((photo, i) => (
            <li key={photo.key} className="space-y-1">
              <a href={address(photo.key)} target="_blank" rel="noreferrer">
                <img
                  src={`${address(photo.key)}?small=true`}
                  alt={`The box as it was packed (${i + 1})`}
                  className="h-32 border-2 border-edge"
                />
              </a>
              <p className="text-sm text-soft">
                {photo.takenBy}, {new Date(photo.takenAt).toLocaleDateString('en-GB', { dateStyle: 'medium' })}
              </p>
              <Button
                changes
                aria-label={`Take out photo ${i + 1}`}
                disabled={takeOut.isPending}
                onClick={() => takeOut.mutate(photo.key)}
              >
                Take out
              </Button>
            </li>
          ))}
        </ul>
      )}
      <ErrorNotice error={takeOut.error} />
      <AddPhotos
        label="Photos of the packed box"
        send={(file, key) => sendFile<null>(address(key), file)}
        onSettled={done}
      />
    </section>
  );
}
