/** What a role may do, in a line. */
export const roles = {
  look: 'Sees everything, changes nothing',
  technician: 'Makes jobs and looms, measures, logs, mends',
  lead: 'The same, and signs, shares, sets limits, gives access',
} as const;

export const roleNames = Object.keys(roles) as (keyof typeof roles)[];
