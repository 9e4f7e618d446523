import type {
  ButtonHTMLAttributes,
  InputHTMLAttributes,
  ReactNode,
  SelectHTMLAttributes,
  TextareaHTMLAttributes,
} from 'react';
import { Link } from 'react-router';

const base =
  'inline-flex min-h-11 items-center justify-center gap-2 rounded-sm border-2 px-4 font-bold cursor-pointer disabled:cursor-not-allowed disabled:opacity-55';
const kinds = {
  main: 'border-copper bg-copper text-on-copper',
  plain: 'border-edge bg-card text-ink hover:border-copper',
};

export function Button({
  kind = 'plain',
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { kind?: keyof typeof kinds }) {
  return <button type="button" {...rest} className={`${base} ${kinds[kind]} ${rest.className ?? ''}`} />;
}

export function ButtonLink({
  kind = 'plain',
  to,
  children,
}: {
  kind?: keyof typeof kinds;
  to: string;
  children: ReactNode;
}) {
  return (
    <Link to={to} className={`${base} ${kinds[kind]}`}>
      {children}
    </Link>
  );
}

const field = 'min-h-11 w-full rounded-sm border-2 border-edge bg-card px-3 py-2 text-ink';

/** A named field with its hint and its error. */
export function Field({
  label,
  hint,
  error,
  children,
}: {
  label: string;
  hint?: string;
  error?: string | undefined;
  children: ReactNode;
}) {
  return (
    <label className="block">
      <span className="mb-1 block font-bold">{label}</span>
      {children}
      {hint && <span className="mt-1 block text-sm text-soft">{hint}</span>}
      {error && <span className="mt-1 block font-bold text-fail">{error}</span>}
    </label>
  );
}

export const Input = (props: InputHTMLAttributes<HTMLInputElement>) => (
  <input {...props} className={`${field} ${props.className ?? ''}`} />
);
export const Select = (props: SelectHTMLAttributes<HTMLSelectElement>) => (
  <select {...props} className={`${field} ${props.className ?? ''}`} />
);
export const TextArea = (props: TextareaHTMLAttributes<HTMLTextAreaElement>) => (
  <textarea rows={2} {...props} className={`${field} ${props.className ?? ''}`} />
);

export function Key({ children }: { children: ReactNode }) {
  return (
    <kbd className="inline-block min-w-6 rounded-sm border border-edge bg-card px-1.5 text-center font-mono text-sm text-ink">
      {children}
    </kbd>
  );
}
