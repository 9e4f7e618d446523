import type { ReactNode } from 'react';

/** One entry of a list, as its file writes it. */
export type Row = Readonly<Record<string, unknown>>;

/** A column of a grid: how a row's value is shown as text, and how typed text goes back into the row. */
export interface GridColumn {
  key: string;
  head: string;
  /** Other heads that pasted rows may use for it. */
  also?: readonly string[];
  width: number;
  mono?: boolean;
  read: (row: Row) => string;
  write: (row: Row, text: string) => Row;
  /** What can stand here, to complete from. */
  options?: (row: Row) => readonly string[];
  /** Drawn before the text. */
  mark?: (row: Row) => ReactNode;
}

const number = /^-?(0|[1-9]\d*)(\.\d+)?([eE][+-]?\d+)?$/;

/** The same row with another value; without the field when there is none. */
export function withField(row: Row, field: string, value: unknown): Row {
  if (value !== undefined) return { ...row, [field]: value };
  return Object.fromEntries(Object.entries(row).filter(([k]) => k !== field));
}

const plain = (value: unknown) =>
  value === undefined || value === null ? '' : typeof value === 'string' ? value : JSON.stringify(value);

type Extra = Partial<Omit<GridColumn, 'key' | 'head' | 'width' | 'read' | 'write'>>;

export const textColumn = (key: string, head: string, width: number, extra: Extra = {}): GridColumn => ({
  key,
  head,
  width,
  read: (row) => plain(row[key]),
  write: (row, text) => withField(row, key, text === '' ? undefined : text),
  ...extra,
});

/** A number; what is no number stays as it was typed, so that it is marked and not lost. */
export const numberColumn = (key: string, head: string, width: number, extra: Extra = {}): GridColumn => ({
  ...textColumn(key, head, width, { mono: true, ...extra }),
  write: (row, text) => {
    const typed = text.trim();
    const pointed = /^-?\d+,\d+$/.test(typed) ? typed.replace(',', '.') : typed;
    return withField(row, key, typed === '' ? undefined : number.test(pointed) ? Number(pointed) : typed);
  },
});

/** Names with blanks between them. */
export const namesColumn = (key: string, head: string, width: number): GridColumn => ({
  ...textColumn(key, head, width, { mono: true }),
  read: (row) => (Array.isArray(row[key]) ? row[key].map(String).join(' ') : plain(row[key])),
  write: (row, text) => withField(row, key, text.trim() === '' ? undefined : text.trim().split(/\s+/)),
});

/** One number, or least, usual and greatest with blanks between them. */
export const rangeColumn = (key: string, head: string, width: number): GridColumn => ({
  ...textColumn(key, head, width, { mono: true }),
  read: (row) => {
    const value = row[key];
    if (typeof value !== 'object' || value === null) return plain(value);
    const { min, nominal, max } = value as Record<string, unknown>;
    return [min, nominal, max].map(plain).join(' ');
  },
  write: (row, text) => {
    const parts = text.trim().split(/\s+/).filter(Boolean);
    const numbers = parts.map(Number);
    if (parts.length === 0) return withField(row, key, undefined);
    if (parts.some((p) => !number.test(p)) || ![1, 3].includes(parts.length)) return withField(row, key, text);
    return withField(
      row,
      key,
      parts.length === 1 ? numbers[0] : { min: numbers[0], nominal: numbers[1], max: numbers[2] },
    );
  },
});

/** Pins of a device with the cavities they meet: `1=INJ1:1 2=INJ1:2`. */
export const pinsColumn = (key: string, head: string, width: number): GridColumn => ({
  ...textColumn(key, head, width, { mono: true }),
  read: (row) =>
    typeof row[key] === 'object' && row[key] !== null
      ? Object.entries(row[key])
          .map(([pin, at]) => `${pin}=${plain(at)}`)
          .join(' ')
      : plain(row[key]),
  write: (row, text) => {
    const pairs = text
      .trim()
      .split(/\s+/)
      .filter(Boolean)
      .map((p) => p.split('='));
    const right = pairs.every((p) => p.length === 2 && p[0]);
    return withField(row, key, pairs.length === 0 ? undefined : right ? Object.fromEntries(pairs) : text);
  },
});
