import { useQueryClient } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { sendFile, type Schemas } from '../../api/client';
import { AddPhotos } from '../../ui/AddPhotos';
import { Button } from '../../ui/Controls';
import { Face, sideWords, type Side } from '../../ui/Face';
import { Sheet } from '../../ui/Sheet';
import { followRun } from './followRun';

type Step = Schemas['StepView'];

/** A place to look at or a sample to pull: the face, what to go through there, and its photos. */
export function LookCard({
  run,
  step,
  loom,
  side,
  next,
}: {
  run: Schemas['RunView'];
  step: Step;
  loom: Schemas['LoomView'];
  side: Side;
  /** What comes after it. */
  next: ReactNode;
}) {
  const [ref, cavity] = step.black.split(':');
  const connector = loom.connectors.find((c) => c.ref === ref);
  return (
    <div className="flex flex-[1_0_auto] flex-col border-2 border-edge bg-card">
      <div className="grid min-h-0 flex-1 gap-x-4 p-3 md:grid-cols-2">
        <div className="flex min-h-0 min-w-0 flex-col gap-2">
          <p className="flex justify-between gap-2 text-soft">
            <span>{step.unit === 'sight' ? 'Look' : 'Crimp sample'}</span>
            <span>{sideWords[side]}</span>
          </p>
          <p className="text-3xl leading-tight font-bold">{step.subject}</p>
          {connector && (
            <div className="relative min-h-24 flex-1">
              <div className="absolute inset-0 flex items-center justify-center">
                <Face connector={connector} side={side} ringed={step.unit === 'sight' ? undefined : cavity} />
              </div>
            </div>
          )}
        </div>
        <div className="flex min-w-0 flex-col gap-3">
          {step.looks.length > 0 ? (
            <ul className="text-xl">
              {step.looks.map((thing) => (
                <li key={thing} className="border-b border-line py-1.5 pl-4 -indent-4">
                  – {thing}
                </li>
              ))}
            </ul>
          ) : (
            <p className="text-xl">{sentence(step.setup ?? '')}</p>
          )}
          <Photos run={run} step={step} />
        </div>
      </div>
      <div className="grid border-t-2 border-edge">{next}</div>
    </div>
  );
}

const sentence = (words: string) => `${words.charAt(0).toUpperCase()}${words.slice(1)}.`;

const address = (run: number, key: string, small: boolean) =>
  `/api/runs/${run}/photos/${key}${small ? '?small=true' : ''}`;

function Photos({ run, step }: { run: Schemas['RunView']; step: Step }) {
  const client = useQueryClient();
  const [open, setOpen] = useState<string | null>(null);
  return (
    <div className="mt-auto space-y-2">
      <div className="flex flex-wrap items-center gap-2">
        {step.standing.photos.map((key, i) => (
          <button key={key} type="button" className="cursor-pointer border-2 border-edge" onClick={() => setOpen(key)}>
            <img
              src={address(run.id, key, true)}
              alt={`${step.subject ?? ''}, ${i + 1}`}
              className="h-20 w-28 object-cover"
            />
          </button>
        ))}
        <AddPhotos
          label="Photos to add"
          className="min-h-14"
          send={async (file, key) => {
            const stored = await sendFile<Schemas['PhotoStoredView']>(
              `/api/runs/${run.id}/steps/${step.number}/photos/${key}`,
              file,
            );
            await followRun(client, run.jobId, run.id, stored.lastEvent);
          }}
        />
      </div>
      {open && (
        <Sheet title={step.subject ?? 'Photo'} onClose={() => setOpen(null)}>
          <img
            src={address(run.id, open, false)}
            alt={step.subject ?? ''}
            className="max-h-[70vh] w-full object-contain"
          />
          <Button kind="main" className="mt-4" onClick={() => setOpen(null)}>
            Back to the bench
          </Button>
        </Sheet>
      )}
    </div>
  );
}
