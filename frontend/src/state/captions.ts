/** Whether captions and rights are shown beside the photographs. */
import { create } from 'zustand';

export const useCaptions = create<{ open: boolean }>()(() => ({ open: false }));
