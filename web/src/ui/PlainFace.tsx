import { useState } from 'react';
import type { Schemas } from '../api/client';
import { FaceDrawing, type Filling } from './Face';

/** A face with a title, and the place of the ringed cavity said in words. */
export function PlainFace({
  title,
  face,
  fillings,
  ringed,
  onPick,
}: {
  title: string;
  face: Schemas['FaceLayout'];
  fillings?: ReadonlyMap<string, Filling>;
  ringed?: string | undefined;
  onPick?: (cavity: string) => void;
}) {
  const [under, setUnder] = useState<string | null>(null);
  const spoken = face.cells.find((c) => c.cavity === ringed)?.spoken;
  const said = under ?? ringed;
  const place = face.cells.find((c) => c.cavity === said)?.spoken;
  return (
    <figure className="space-y-1">
      <figcaption className="text-sm text-soft">
        {title}
        {place && (
          <b className="text-ink">
            {' '}
            · cavity {said}: {place}
          </b>
        )}
      </figcaption>
      <FaceDrawing
        face={face}
        label={`${title}${ringed && spoken ? `, cavity ${ringed} ringed: ${spoken}` : ''}`}
        {...(fillings ? { fillings } : {})}
        ringed={ringed}
        onPick={onPick}
        onUnder={setUnder}
      />
    </figure>
  );
}
