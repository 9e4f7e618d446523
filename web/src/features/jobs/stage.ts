import type { Schemas } from '../../api/client';

/** How far along the shop's five stages a job is. */
export const stageSteps: Record<Schemas['Stage'], number> = {
  'no-loom': 0,
  'waiting-for-bench': 1,
  'on-bench': 2,
  'ready-to-sign': 3,
  released: 4,
  overturned: 4,
};
