import { sendForm, type Schemas } from '../../api/client';

/** What a person said of one file: of its columns, single cells, rows and faces. */
export interface Said {
  columns?: Record<string, { meaning: Schemas['Meaning']; unit?: string | null; of?: string | null }>;
  connector?: string;
  cells?: { sheet: string; row: number; column: number; text: string }[];
  struck?: { sheet: string; row: number }[];
  kept?: { sheet: string; row: number }[];
  faces?: Record<string, string>;
  rows?: number;
}

/** Asks the server what taking a file in would do, with what somebody said of it. */
export const lookAt = (job: number, file: File, said: Said | undefined) => {
  const form = new FormData();
  form.set('said', said ? JSON.stringify(said) : '');
  form.set('file', file);
  return sendForm<Schemas['ImportPreview']>(
    `/api/jobs/${job}/import?${new URLSearchParams({ name: file.name }).toString()}`,
    form,
  );
};

/** The same with one cell that reads otherwise. */
export const withCell = (said: Said, sheet: string, row: number, column: number, text: string): Said => ({
  ...said,
  cells: [
    ...(said.cells ?? []).filter((c) => c.sheet !== sheet || c.row !== row || c.column !== column),
    { sheet, row, column, text },
  ],
});

/** The same with a row left out of its table, or brought back into it. */
export const withRow = (said: Said, sheet: string, row: number, out: boolean): Said => {
  const others = (rows: Said['kept']) => (rows ?? []).filter((r) => r.sheet !== sheet || r.row !== row);
  const here = { sheet, row };
  return out
    ? { ...said, struck: [...others(said.struck), here], kept: others(said.kept) }
    : { ...said, struck: others(said.struck), kept: [...others(said.kept), here] };
};
