export const sources: Record<string, string> = {
  'factory-drawing': 'factory drawing',
  'supplier-sheet': 'supplier’s sheet',
  traced: 'traced on a loom',
  'word-of-mouth': 'somebody’s word',
};

/** How a line was confirmed, strongest first. */
export const ways: Record<string, string> = {
  running: 'tested on a running engine',
  loom: 'tested on a loom',
  print: 'read in print',
};

export const directions = [
  'supply',
  'ground',
  'sensor ground',
  '5 V',
  'input',
  'output',
  'network',
  'shield',
  'not used',
];
