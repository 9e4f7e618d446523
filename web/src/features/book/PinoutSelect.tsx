import { useQuery } from '@tanstack/react-query';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { Field, Select } from '../../ui/Controls';

export function usePinouts() {
  return useQuery({ queryKey: keys.pinouts, queryFn: () => given(api.GET('/api/pinouts')) });
}

/** A sheet or a loom revision to choose. */
export function PinoutSelect({
  label,
  hint,
  value,
  entries,
  onChange,
}: {
  label: string;
  hint?: string;
  value: string;
  entries: readonly Schemas['PinoutEntry'][];
  onChange: (key: string) => void;
}) {
  return (
    <Field label={label} {...(hint ? { hint } : {})}>
      <Select value={value} onChange={(e) => onChange(e.target.value)}>
        <option value="">choose a sheet or a loom</option>
        {(['sheet', 'loom'] as const).map((kind) => (
          <optgroup key={kind} label={kind === 'sheet' ? 'Sheets of the pinout book' : 'Loom revisions'}>
            {entries
              .filter((e) => e.kind === kind)
              .map((e) => (
                <option key={e.key} value={e.key}>
                  {e.title}
                </option>
              ))}
          </optgroup>
        ))}
      </Select>
    </Field>
  );
}
