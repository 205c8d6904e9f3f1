import { create } from 'zustand';
import type { Scopes } from '../../../core/grade';

/** What is measured of the picture, while somebody looks at it. */
export const useScopes = create<{ open: boolean; scopes: Scopes | null }>(() => ({ open: false, scopes: null }));
