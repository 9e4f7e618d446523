import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Button, Field, Select } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';
import { PlainFace } from '../../ui/PlainFace';
import { Sheet } from '../../ui/Sheet';

/** Both faces of a connector that papers name: made from its pins, or one of the shop's that has all of them. */
export function ChooseFace({
  connector,
  onChoose,
  onClose,
}: {
  connector: Schemas['FoundConnectorView'];
  /** Id of a family of the shop; empty for the face made from its pins. */
  onChoose: (family: string) => void;
  onClose: () => void;
}) {
  const families = useQuery({ queryKey: keys.families, queryFn: () => given(api.GET('/api/families')) });
  const isShops = connector.fits.includes(connector.family);
  const [id, setId] = useState(isShops ? connector.family : '');
  const made = useQuery({
    queryKey: keys.drawn(connector.made),
    queryFn: () => given(api.POST('/api/faces/draw', { body: connector.made as never })),
    enabled: connector.made !== null,
    gcTime: 0,
  });
  const shown = id === '' ? made.data : families.data?.find((f) => f.id === id);
  return (
    <Sheet title={`Face of ${connector.ref}`} onClose={onClose}>
      <div className="space-y-4">
        <p>
          The papers name its pins and not where they sit. Lay the plug beside the two drawings: when every pin is where
          it is drawn, say so.
        </p>
        <Field
          label="Family"
          hint={
            connector.fits.length === 0 ? 'No family of the library has all its pins.' : 'Those that have all its pins.'
          }
        >
          <Select value={id} onChange={(e) => setId(e.target.value)}>
            {connector.made !== null && <option value="">made from its pins</option>}
            {connector.fits.map((f) => (
              <option key={f} value={f}>
                {families.data?.find((x) => x.id === f)?.title ?? f}
              </option>
            ))}
          </Select>
        </Field>
        <ErrorNotice error={made.error ?? families.error} />
        {shown && (
          <div className="grid gap-4 sm:grid-cols-2">
            <PlainFace title="Mating face" face={shown.matingFace} />
            <PlainFace title="Wire side" face={shown.wireSide} />
          </div>
        )}
        <div className="flex flex-wrap gap-3">
          <Button kind="main" onClick={() => onChoose(id)} disabled={!shown}>
            The plug looks like this
          </Button>
          <Button onClick={onClose}>Not looked at yet</Button>
        </div>
      </div>
    </Sheet>
  );
}
