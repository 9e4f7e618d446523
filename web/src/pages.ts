import type { ComponentType } from 'react';

/** A page: where it is, what it is called, and its code, which is fetched when somebody goes there. */
export interface Page {
  path: string;
  /** Its name in the tab, in the history and on its heading while it is fetched. */
  title: string;
  /** Its name in the row of pages that it stands in; without one it stands in none. */
  label?: string;
  /** The page of the row that is lit while one is here, by its path; itself without one. */
  under?: string;
  fetch: () => Promise<ComponentType>;
}

/** Pages of the shop. */
export const shopPages: readonly Page[] = [
  { path: '/', title: 'Jobs', label: 'Jobs', fetch: async () => (await import('./features/jobs/JobsPage')).JobsPage },
  { path: '/jobs/new', title: 'New job', fetch: async () => (await import('./features/jobs/JobFormPage')).NewJobPage },
  {
    path: '/jobs/:id/edit',
    title: 'About the job',
    fetch: async () => (await import('./features/jobs/JobFormPage')).EditJobPage,
  },
  {
    path: '/book',
    title: 'Pinout book',
    label: 'Pinout book',
    fetch: async () => (await import('./features/book/BookPage')).BookPage,
  },
  { path: '/book/:id', title: 'Sheet', fetch: async () => (await import('./features/book/SheetPage')).SheetPage },
  {
    path: '/book/:id/loose/:connector',
    title: 'Loose wires',
    fetch: async () => (await import('./features/book/LoosePage')).LoosePage,
  },
  {
    path: '/book/:id/loose/:connector/labels',
    title: 'Labels',
    fetch: async () => (await import('./features/book/LabelsPage')).LabelsPage,
  },
  {
    path: '/compare',
    title: 'Compare',
    label: 'Compare',
    fetch: async () => (await import('./features/book/ComparePage')).ComparePage,
  },
  {
    path: '/merges',
    title: 'Merge',
    label: 'Merge',
    fetch: async () => (await import('./features/merge/MergesPage')).MergesPage,
  },
  { path: '/merges/:id', title: 'Merge', fetch: async () => (await import('./features/merge/MergePage')).MergePage },
  {
    path: '/faults',
    title: 'Fault log',
    label: 'Faults',
    fetch: async () => (await import('./features/log/FaultLogPage')).FaultLogPage,
  },
  {
    path: '/library',
    title: 'Library',
    label: 'Library',
    fetch: async () => (await import('./features/library/LibraryPage')).LibraryPage,
  },
  {
    path: '/instruments',
    title: 'Instruments',
    label: 'Instruments',
    fetch: async () => (await import('./features/instruments/InstrumentsPage')).InstrumentsPage,
  },
  {
    path: '/limits',
    title: 'Limits',
    label: 'Limits',
    fetch: async () => (await import('./features/library/LimitsPage')).LimitsPage,
  },
  { path: '/me', title: 'You', fetch: async () => (await import('./features/people/MePage')).MePage },
  { path: '/people', title: 'People', fetch: async () => (await import('./features/people/PeoplePage')).PeoplePage },
  {
    path: '/people/log',
    title: 'Who came in',
    fetch: async () => (await import('./features/people/AuditPage')).AuditPage,
  },
];

/** Pages of a job; paths lie under the job's own. */
export const jobPages: readonly Page[] = [
  {
    path: 'loom',
    title: 'Loom',
    label: 'Loom',
    fetch: async () => (await import('./features/loom/LoomPage')).LoomPage,
  },
  {
    path: 'bench',
    title: 'Bench',
    label: 'Bench',
    fetch: async () => (await import('./features/bench/BenchPage')).BenchPage,
  },
  {
    path: 'matrix',
    title: 'Matrix',
    label: 'Matrix',
    fetch: async () => (await import('./features/matrix/MatrixPage')).MatrixPage,
  },
  {
    path: 'faults',
    title: 'Faults',
    label: 'Faults',
    fetch: async () => (await import('./features/faults/FaultsPage')).FaultsPage,
  },
  {
    path: 'power-up',
    title: 'Power-up',
    label: 'Power-up',
    fetch: async () => (await import('./features/power/PowerUpPage')).PowerUpPage,
  },
  {
    path: 'record',
    title: 'Record',
    label: 'Record',
    fetch: async () => (await import('./features/record/RecordPage')).RecordPage,
  },
  {
    path: 'handover',
    title: 'Handover',
    label: 'Handover',
    fetch: async () => (await import('./features/handover/HandoverPage')).HandoverPage,
  },
  {
    path: 'import',
    title: 'Bring a file in',
    under: 'loom',
    fetch: async () => (await import('./features/loom/ImportPage')).ImportPage,
  },
  {
    path: 'shows',
    title: 'What it shows',
    under: 'loom',
    fetch: async () => (await import('./features/shows/ShowsPage')).ShowsPage,
  },
  {
    path: 'one-end',
    title: 'One-end test',
    under: 'loom',
    fetch: async () => (await import('./features/shows/OneEndPage')).OneEndPage,
  },
  {
    path: 'cable',
    title: 'Cable and fuses',
    under: 'loom',
    fetch: async () => (await import('./features/cable/CablePage')).CablePage,
  },
  {
    path: 'sensors',
    title: 'Sensors',
    under: 'loom',
    fetch: async () => (await import('./features/sensors/SensorsPage')).SensorsPage,
  },
  {
    path: 'revisions',
    title: 'Revisions',
    under: 'loom',
    fetch: async () => (await import('./features/revisions/RevisionsPage')).RevisionsPage,
  },
  {
    path: 'draft',
    title: 'Rework',
    under: 'loom',
    fetch: async () => (await import('./features/draft/DraftPage')).DraftPage,
  },
];

/** What one can ask of a loom, in the order of its row of pages. */
export const loomRow: readonly { path: string; label: string }[] = [
  { path: 'loom', label: 'Wires and faces' },
  ...jobPages.filter((p) => p.under === 'loom' && p.path !== 'import').map((p) => ({ path: p.path, label: p.title })),
];
