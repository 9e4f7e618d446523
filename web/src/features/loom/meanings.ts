import type { Schemas } from '../../api/client';

/** What a column can hold, in words. */
export const meanings: readonly [Schemas['Meaning'], string][] = [
  ['ignore', 'nothing'],
  ['wire', 'wire number'],
  ['connector', 'connector'],
  ['pin', 'pin'],
  ['end', 'connector and pin'],
  ['other-connector', 'other connector'],
  ['other-pin', 'other pin'],
  ['other-end', 'other connector and pin'],
  ['colour', 'colour'],
  ['section', 'section'],
  ['length', 'length'],
  ['signal', 'function'],
  ['role', 'role'],
  ['twisted', 'twisted with'],
  ['splice', 'splice'],
  ['note', 'note'],
];

/** Units of columns that have numbers. */
export const units: Partial<Record<Schemas['Meaning'], readonly string[]>> = {
  length: ['mm', 'cm', 'm', 'in', 'ft'],
  section: ['mm2', 'awg'],
};

export const unitWords = (unit: string) => (unit === 'mm2' ? 'mm²' : unit === 'awg' ? 'AWG' : unit);
