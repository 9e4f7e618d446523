import { useState } from 'react';
import { Button, Select } from '../../ui/Controls';
import type { View } from './words';

/** Which device moved instead, or which moved besides. */
export function WhichMoved({ view, onMoved }: { view: View; onMoved: (devices: string[]) => void }) {
  const [moved, setMoved] = useState<string[]>([]);
  return (
    <div className="flex flex-wrap items-center gap-3">
      <Select
        aria-label="Which one moved"
        className="w-auto"
        value=""
        onChange={(e) => setMoved([...moved.filter((m) => m !== e.target.value), e.target.value])}
      >
        <option value="">which one moved?</option>
        {view.devices.map((d) => (
          <option key={d.ref} value={d.ref}>
            {d.title}
          </option>
        ))}
      </Select>
      {moved.map((m) => (
        <Button key={m} onClick={() => setMoved(moved.filter((x) => x !== m))}>
          {view.devices.find((d) => d.ref === m)?.title ?? m} ×
        </Button>
      ))}
      <Button changes kind="main" disabled={moved.length === 0} onClick={() => onMoved(moved)}>
        {moved.length > 1 ? 'These moved' : 'This one moved'}
      </Button>
    </div>
  );
}
