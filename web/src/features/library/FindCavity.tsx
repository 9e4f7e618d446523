import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { api, given, type Schemas } from '../../api/client';
import { Button, Input, Select } from '../../ui/Controls';

/** Finds a cavity from words: “second row, fifth from the left”. */
export function FindCavity({ familyId, onFound }: { familyId: string; onFound: (cavity: string | undefined) => void }) {
  const [words, setWords] = useState('');
  const [side, setSide] = useState<Schemas['FaceSide']>('wire-side');
  const find = useMutation({
    mutationFn: () => given(api.POST('/api/faces/find', { body: { familyId, family: null, side, words } })),
    onSuccess: (found) => onFound(found.cavity ?? undefined),
  });
  return (
    <form
      className="flex flex-wrap items-center gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        find.mutate();
      }}
    >
      <div className="min-w-48 flex-1">
        <Input
          aria-label="Where the cavity is, in words"
          placeholder="second row, fifth from the left"
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
      </div>
      <div className="w-44">
        <Select aria-label="Counted on" value={side} onChange={(e) => setSide(e.target.value as Schemas['FaceSide'])}>
          <option value="wire-side">on the wire side</option>
          <option value="mating-face">on the mating face</option>
        </Select>
      </div>
      <Button type="submit">Find</Button>
      <p role="status" className={`w-full ${find.data?.cavity ? 'text-lg font-bold' : 'text-doubt'}`}>
        {find.data?.message}
      </p>
    </form>
  );
}
