import {
  Description,
  Field as Labelled,
  Input as TextInput,
  Label,
  Select as Choice,
  Textarea as LongText,
} from '@headlessui/react';
import type {
  ButtonHTMLAttributes,
  InputHTMLAttributes,
  ReactNode,
  SelectHTMLAttributes,
  TextareaHTMLAttributes,
} from 'react';
import { Link } from 'react-router';
import { lookOnly, useMayChange } from './mayChange';

const base =
  'inline-flex min-h-11 items-center justify-center gap-2 rounded-sm border-2 px-4 font-bold cursor-pointer disabled:cursor-not-allowed disabled:opacity-55';
const kinds = {
  main: 'border-copper bg-copper text-on-copper',
  plain: 'border-edge bg-card text-ink hover:border-copper',
};

export function Button({
  kind = 'plain',
  changes = false,
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & {
  kind?: keyof typeof kinds;
  /** It changes something of the shop's: who may only look cannot press it. */
  changes?: boolean;
}) {
  const looksOn = !useMayChange() && changes;
  return (
    <button
      type="button"
      {...rest}
      {...(looksOn ? { disabled: true, title: lookOnly } : {})}
      className={`${base} ${kinds[kind]} ${rest.className ?? ''}`}
    />
  );
}

export function ButtonLink({
  kind = 'plain',
  changes = false,
  to,
  children,
}: {
  kind?: keyof typeof kinds;
  /** It leads to where something of the shop's is changed: who may only look does not see it. */
  changes?: boolean;
  to: string;
  children: ReactNode;
}) {
  if (!useMayChange() && changes) return null;
  return (
    <Link to={to} className={`${base} ${kinds[kind]}`}>
      {children}
    </Link>
  );
}

/** What these fields never need, and their library types more narrowly than HTML does. */
type Plain<T> = Omit<T, 'disabled' | 'autoFocus'>;

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
    <Labelled>
      <Label className="mb-1 block font-bold">{label}</Label>
      {children}
      {hint && <Description className="mt-1 block text-sm text-soft">{hint}</Description>}
      {error && <Description className="mt-1 block font-bold text-fail">{error}</Description>}
    </Labelled>
  );
}

export const Input = (props: Plain<InputHTMLAttributes<HTMLInputElement>>) => (
  <TextInput {...props} className={`${field} ${props.className ?? ''}`} />
);
export const Select = (props: Plain<SelectHTMLAttributes<HTMLSelectElement>>) => (
  <Choice {...props} className={`${field} ${props.className ?? ''}`} />
);
export const TextArea = (props: Plain<TextareaHTMLAttributes<HTMLTextAreaElement>>) => (
  <LongText rows={2} {...props} className={`${field} ${props.className ?? ''}`} />
);

export function Key({ children }: { children: ReactNode }) {
  return (
    <kbd className="inline-block min-w-6 rounded-sm border border-edge bg-card px-1.5 text-center font-mono text-sm text-ink">
      {children}
    </kbd>
  );
}
