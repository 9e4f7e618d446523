import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, given } from '../../api/client';
import { keys } from '../../api/keys';
import { Button, Field, Select } from '../../ui/Controls';
import { FamilyForm } from '../library/FamilyForm';
import { PlainFace } from '../../ui/PlainFace';
import { listOf, withList, type LoomFile } from './document';
import type { Library } from './useLibrary';

/** Families of the draft: its own copies, so that a later change of the shop's library changes nothing that was tested. */
export function FamiliesTab({
  file,
  library,
  onChange,
}: {
  file: LoomFile;
  library: Library;
  onChange: (file: LoomFile) => void;
}) {
  const own = listOf(file, 'families');
  const [chosen, setChosen] = useState(0);
  const [from, setFrom] = useState('');
  const [making, setMaking] = useState(false);
  const family = own[chosen];
  const add = (body: LoomFile) => {
    onChange(withList(file, 'families', [...own, body]));
    setChosen(own.length);
    setMaking(false);
  };
  return (
    <div className="grid min-h-0 flex-1 gap-4 overflow-auto md:grid-cols-[18rem_1fr]">
      <div className="space-y-3">
        <ul aria-label="Families of this draft" className="border-2 border-edge bg-card">
          {own.map((f, i) => (
            <li key={i}>
              <button
                type="button"
                aria-pressed={i === chosen}
                onClick={() => {
                  setChosen(i);
                  setMaking(false);
                }}
                className={`flex min-h-10 w-full cursor-pointer items-center gap-2 border-b border-line px-2 text-left ${i === chosen ? 'bg-well' : ''}`}
              >
                <span className="font-mono font-semibold">{String(f.id)}</span>
                <span className="truncate text-soft">{typeof f.title === 'string' ? f.title : ''}</span>
              </button>
            </li>
          ))}
          {own.length === 0 && <li className="p-3 text-soft">None yet.</li>}
        </ul>
        <Field label="From the shop’s library">
          <Select
            value={from}
            onChange={(e) => {
              const body = library.families.find((f) => f.id === e.target.value)?.body;
              if (body) add(body as LoomFile);
              setFrom('');
            }}
          >
            <option value="">choose a family to copy in</option>
            {library.families
              .filter((f) => !own.some((o) => o.id === f.id))
              .map((f) => (
                <option key={f.id} value={f.id}>
                  {f.title} ({f.id})
                </option>
              ))}
          </Select>
        </Field>
        <Button onClick={() => setMaking(true)}>Make a new one</Button>
      </div>
      <div className="min-w-0">
        {making ? (
          <FamilyForm action="Add to this draft" onDone={add} onCancel={() => setMaking(false)} />
        ) : (
          family && <Drawn key={chosen} body={family} />
        )}
      </div>
    </div>
  );
}

function Drawn({ body }: { body: LoomFile }) {
  const drawn = useQuery({
    queryKey: keys.drawn(body),
    queryFn: () => given(api.POST('/api/faces/draw', { body })),
    gcTime: 0,
  });
  return drawn.data ? (
    <div className="space-y-4">
      <PlainFace title="Mating face" face={drawn.data.matingFace} />
      <PlainFace title="Wire side" face={drawn.data.wireSide} />
    </div>
  ) : (
    <p className="text-soft">{drawn.isError ? 'This family cannot be drawn as it stands; see its problems.' : ''}</p>
  );
}
