import { createContext, useContext } from 'react';

/** Whether who is signed in may change anything; the server says so, and refuses whatever is sent all the same. */
export const MayChange = createContext(true);

export const useMayChange = () => useContext(MayChange);

export const lookOnly = 'You look on: a technician or a lead can do this.';
