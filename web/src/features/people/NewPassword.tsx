import { Field, Input } from '../../ui/Controls';

/** A new password; what is wrong with it comes from the server. */
export function NewPassword({
  value,
  error,
  onChange,
}: {
  value: string;
  error: string | undefined;
  onChange: (text: string) => void;
}) {
  return (
    <Field
      label="New password"
      hint="At least 10 signs. A few words in a row are easy to keep in mind and hard to guess."
      error={error}
    >
      <Input
        type="password"
        value={value}
        onChange={(e) => onChange(e.target.value)}
        autoComplete="new-password"
        required
        maxLength={200}
      />
    </Field>
  );
}
