'use client';

import { useEffect } from 'react';
import { useMeter } from '../viewport/meter/meterStore';
import { useScopes } from '../viewport/meter/scopesStore';
import { Histogram, Parade, Vector } from './ScopePlots';
import { Tenths } from './Tenths';
import styles from './grade.module.css';

/** What the picture is made of: luminances in stops, channels across the picture, hues, and how bright its ends are. */
export function Scopes() {
  const scopes = useScopes((s) => s.scopes);
  const ev100 = useMeter((m) => m.ev100);
  useEffect(() => {
    useScopes.setState({ open: true });
    return () => useScopes.setState({ open: false });
  }, []);
  return (
    <div className={styles.scopes} role="group" aria-label="Scopes">
      <Histogram scopes={scopes} ev100={ev100} />
      <div className={styles.pair}>
        <Parade scopes={scopes} />
        <Vector scopes={scopes} />
      </div>
      <Tenths scopes={scopes} />
    </div>
  );
}
