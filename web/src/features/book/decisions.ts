/** What can be done with a loose wire: its key, its name, and how much is kept when nobody says otherwise. */
export const decisions: Record<string, { key: string; label: string; mm?: number }> = {
  'keep-long': { key: '1', label: 'Keep long' },
  'keep-insulated': { key: '2', label: 'Keep, insulate' },
  'cut-back': { key: '3', label: 'Cut back', mm: 0 },
  'to-ground': { key: '4', label: 'To ground' },
};
