/** Whether it is outlined where the blur of the compared frames was measured. */
import { create } from 'zustand';

export const useOutline = create<{ on: boolean }>()(() => ({ on: false }));
