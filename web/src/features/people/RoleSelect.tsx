import { Field, Select } from '../../ui/Controls';
import { roleNames, roles } from './roles';

/** A role, with what it may do. */
export function RoleSelect({
  value,
  error,
  onChange,
}: {
  value: string;
  error: string | undefined;
  onChange: (role: string) => void;
}) {
  return (
    <Field label="Role" hint={roleNames.flatMap((r) => (r === value ? [roles[r]] : [])).join()} error={error}>
      <Select value={value} onChange={(e) => onChange(e.target.value)}>
        {roleNames.map((r) => (
          <option key={r} value={r}>
            {r}
          </option>
        ))}
      </Select>
    </Field>
  );
}
