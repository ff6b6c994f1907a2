import type { MouseEvent } from 'react';

/** What is pressed with the pointer leaves the keys to the stage. */
export const keepFocus = (event: MouseEvent) => event.preventDefault();
