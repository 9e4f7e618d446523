import { Button } from './Controls';
import { Notice } from './Notice';
import { Scroll } from './Scroll';

/** What the second of two people sees who changed the same thing: both sides, and the choice between them. */
export function Overtaken({
  said,
  differs,
  note,
  onStore,
  onTake,
}: {
  said: string;
  differs: readonly string[];
  note?: string;
  onStore: () => void;
  onTake: () => void;
}) {
  return (
    <Notice tone="mind">
      <p className="font-bold">{said}</p>
      <Scroll label="Differences" className="my-2 max-h-40">
        <ul className="list-disc pl-6">
          {differs.map((d) => (
            <li key={d}>{d}</li>
          ))}
        </ul>
      </Scroll>
      <div className="flex flex-wrap gap-3">
        <Button onClick={onStore}>Store mine over theirs</Button>
        <Button onClick={onTake}>Take theirs, drop mine</Button>
      </div>
      {note && <p className="mt-1 text-sm text-soft">{note}</p>}
    </Notice>
  );
}
