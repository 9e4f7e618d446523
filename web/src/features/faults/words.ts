import type { Schemas } from '../../api/client';

export const stateWords: Record<Schemas['FaultState'], string> = {
  open: 'open',
  'cause-known': 'cause known',
  fixed: 'fixed, not proven',
  proven: 'proven closed',
};
