/** Where a one-time link leads; the code stands after the number sign, where no server writes it down. */
export const welcomePath = '/welcome';

/** The whole link, to be given to its owner. */
export const linkOf = (code: string) => `${location.origin}${welcomePath}#${code}`;
