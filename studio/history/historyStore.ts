import { create } from 'zustand';

/** Whether the history of the rig is open. */
export const useHistory = create<{ open: boolean }>(() => ({ open: false }));
export const flipHistory = () => useHistory.setState(({ open }) => ({ open: !open }));
