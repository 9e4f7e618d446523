import { useState } from 'react';
import { Button, Field, Select } from '../../ui/Controls';
import { listOf, withList, type LoomFile } from './document';
import type { Library } from './useLibrary';

/** Plugs a device of the shop's types onto a connector of the draft. */
export function AttachDevice({
  file,
  library,
  onChange,
}: {
  file: LoomFile;
  library: Library;
  onChange: (file: LoomFile) => void;
}) {
  const connectors = listOf(file, 'connectors').filter((c) => typeof c.ref === 'string');
  const [at, setAt] = useState('');
  const [type, setType] = useState('');
  const here = connectors.find((c) => c.ref === at);
  const device = library.devices.find((d) => d.id === type);
  const attach = () => {
    if (!here || !device) return;
    const { id, pins } = device;
    const facts = Object.fromEntries(Object.entries(device).filter(([k]) => !['id', 'family', 'pins'].includes(k)));
    const taken = new Set(listOf(file, 'devices').map((d) => d.ref));
    let ref = id;
    for (let n = 2; taken.has(ref); n++) ref = `${id}-${n}`;
    const places = Object.fromEntries(Object.entries(pins).map(([pin, cavity]) => [pin, `${at}:${cavity}`]));
    onChange(withList(file, 'devices', [...listOf(file, 'devices'), { ref, ...facts, pins: places }]));
  };
  const fits = library.devices.filter((d) => !here || d.family === here.family);
  const others = library.devices.filter((d) => !fits.includes(d));
  return (
    <div className="flex flex-wrap items-end gap-3 border-2 border-edge p-3">
      <div className="w-56">
        <Field label="Attach to">
          <Select value={at} onChange={(e) => setAt(e.target.value)}>
            <option value="">choose a connector</option>
            {connectors.map((c) => (
              <option key={String(c.ref)} value={String(c.ref)}>
                {String(c.ref)} {typeof c.title === 'string' ? c.title : ''}
              </option>
            ))}
          </Select>
        </Field>
      </div>
      <div className="w-80">
        <Field label="Device">
          <Select value={type} onChange={(e) => setType(e.target.value)}>
            <option value="">choose from the shop’s devices</option>
            <optgroup label={here ? 'With this plug' : 'All'}>
              {fits.map((d) => (
                <option key={d.id} value={d.id}>
                  {d.title}
                </option>
              ))}
            </optgroup>
            {others.length > 0 && (
              <optgroup label="With another plug">
                {others.map((d) => (
                  <option key={d.id} value={d.id}>
                    {d.title}
                  </option>
                ))}
              </optgroup>
            )}
          </Select>
        </Field>
      </div>
      <Button onClick={attach} disabled={!here || !device}>
        Attach
      </Button>
    </div>
  );
}
