/** Whether all facts of the active frame stand beside it. */
import { create } from 'zustand';

export const useFactsPanel = create<{ open: boolean }>()(() => ({ open: false }));
