import type { Sharing } from '../api/client';

/** What is said of sharing where nothing is shared. */
export const NOT_SHARED: Sharing = {
  on: false,
  guest: '',
  may: [],
  shoot: null,
  urls: [],
  code: '',
  fingerprint: '',
  guests: [],
  shortest: 8,
};
