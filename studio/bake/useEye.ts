import { useEffect } from 'react';
import type { BakeNow } from '../../core/api';
import type { Vantage } from '../../core/rig';
import { api } from '../api/client';
import { isSameView, useView } from '../viewport/viewStore';

/** How often it is looked whether the view rests elsewhere, milliseconds. */
const LOOK_MS = 1200;

/** Whether a bake has paths to follow yet, and so may take what is seen first. */
const isOpen = ({ state, step }: BakeNow) =>
  state !== 'finishing' && (step === 'plan' || step === 'direct' || step === 'bounce' || step === 'gather');

/** Tells a bake at work where the level is looked at from, whenever the view comes to rest elsewhere: what is seen there is traced first. */
export function useEye(bake: BakeNow | null): void {
  const id = bake && isOpen(bake) ? bake.id : null;
  useEffect(() => {
    if (id === null) return;
    let told: Vantage | null = null;
    let last: Vantage | null = null;
    const look = () => {
      const now = document.visibilityState === 'visible' ? (useView.getState().vantage?.() ?? null) : null;
      const rests = now && (last === null || isSameView(last, now));
      last = now;
      if (!rests || (told && isSameView(told, now))) return;
      told = now;
      const { eye, target, fovDeg } = now;
      // Without an answer it goes on in the order that it has.
      api.orderBake(id, { eye: { eye, target, fovDeg } }).catch(() => (told = null));
    };
    look();
    const timer = setInterval(look, LOOK_MS);
    return () => clearInterval(timer);
  }, [id]);
}
