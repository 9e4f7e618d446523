/** What a role may do, in a line. */
export const roles = {
  look: 'sees everything, changes nothing',
  technician: 'makes jobs and looms, measures, logs, mends',
  lead: 'the same; signs, shares, sets limits, gives access',
} as const;

export const roleNames = Object.keys(roles) as (keyof typeof roles)[];
