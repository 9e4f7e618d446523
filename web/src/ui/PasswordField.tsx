import { Field, Input } from './Controls';

/** A password: the one that somebody has, or a new one. */
export function PasswordField({
  label,
  value,
  isNew = false,
  error,
  onChange,
}: {
  label: string;
  value: string;
  isNew?: boolean;
  error?: string | undefined;
  onChange: (text: string) => void;
}) {
  return (
    <Field
      label={label}
      error={error}
      {...(isNew && { hint: 'At least 10 signs. A few words in a row are easy to keep in mind and hard to guess.' })}
    >
      <Input
        type="password"
        value={value}
        onChange={(e) => onChange(e.target.value)}
        autoComplete={isNew ? 'new-password' : 'current-password'}
        required
        maxLength={200}
      />
    </Field>
  );
}
