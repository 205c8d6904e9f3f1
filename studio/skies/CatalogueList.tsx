'use client';

import { Alert, Button, Input, Modal, Spin } from 'antd';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { Cue } from '../../core/rig';
import type { CatalogueItem, CatalogueView } from '../../core/api';
import { api } from '../api/client';
import { grouped, readable } from '../desk/quantity';
import { useStudio } from '../state/context';
import { useTell } from '../state/useTell';
import { useSkyDesk } from './skyDeskStore';
import type { useSkyShelf } from './useSkyShelf';
import type { ChangeCue } from '../state/useRigEdit';
import styles from './skies.module.css';

interface Props {
  cue: Cue;
  shelf: ReturnType<typeof useSkyShelf>;
  change: ChangeCue;
  onClose(): void;
}

/** The collections that skies can be fetched from, with the values that usually go with each sky. */
export function CatalogueList({ cue, shelf, change, onClose }: Props) {
  const projectId = useStudio((s) => s.project.id);
  const tell = useTell();
  const lists = useQuery({ queryKey: ['catalogues'], queryFn: api.catalogues, retry: false, staleTime: 30_000 });
  const [fetching, setFetching] = useState<string | null>(null);
  const [wanted, setWanted] = useState('');

  const fetchItem = (list: CatalogueView, item: CatalogueItem) => {
    setFetching(item.id);
    api
      .fetchSky(projectId, list.address, item.id)
      .then(async ({ id }) => {
        await shelf.again();
        useSkyDesk.getState().open(id);
        onClose();
      })
      .catch(tell.fault)
      .finally(() => setFetching(null));
  };
  const takeSun = ({ name, typical }: CatalogueItem) => {
    change(`the sun of ${name}`, (c) => {
      const { sunAzimuthDeg: azimuthDeg, sunElevationDeg: elevationDeg, sunLux: illuminanceLux, sunKelvin: colorK } = typical!;
      const given = Object.fromEntries(
        Object.entries({ azimuthDeg, elevationDeg, illuminanceLux, colorK }).filter(([, v]) => v !== undefined),
      );
      c.holds.sun = { ...c.holds.sun, ...given };
    });
    onClose();
  };
  const isWanted = (item: CatalogueItem) => [item.name, ...item.tags].join(' ').toLowerCase().includes(wanted.toLowerCase());

  return (
    <Modal open title="Skies of collections" footer={null} width={720} onCancel={onClose}>
      <Input
        size="small"
        placeholder="Search by name or tag"
        aria-label="Search the skies"
        value={wanted}
        onChange={(e) => setWanted(e.target.value)}
      />
      {lists.isLoading && <Spin className={styles.busy} />}
      {lists.error && <Alert type="error" title={lists.error.message} />}
      {lists.data?.length === 0 && <p>No collection is known. Name one by its address in BASIL_CATALOGUES when Basil starts.</p>}
      {lists.data?.map((list) => (
        <section key={list.address} aria-label={list.name}>
          <h3 className={styles.collection}>{list.name}</h3>
          {list.error && (
            <Alert
              type="error"
              title={list.error}
              action={
                <Button size="small" onClick={() => void lists.refetch()}>
                  Ask again
                </Button>
              }
            />
          )}
          <ul className={styles.items}>
            {list.items.filter(isWanted).map((item) => (
              <li key={item.id}>
                {item.picture && <img src={item.picture} alt="" width={144} height={72} />}
                <span>
                  <b>{item.name}</b>
                  <br />
                  {grouped(item.bytes / 1e6, 1)} MB, {item.licence}
                  {item.typical?.sunLux !== undefined && (
                    <>
                      <br />
                      sun {item.typical.sunAzimuthDeg}° / {item.typical.sunElevationDeg}°, {readable(item.typical.sunLux)} lx,{' '}
                      {item.typical.sunKelvin} K
                    </>
                  )}
                </span>
                <span className={styles.itemActions}>
                  <Button size="small" loading={fetching === item.id} disabled={fetching !== null} onClick={() => fetchItem(list, item)}>
                    Fetch
                  </Button>
                  {item.typical?.sunLux !== undefined && (
                    <Button size="small" onClick={() => takeSun(item)}>
                      Its sun for {cue.name}
                    </Button>
                  )}
                </span>
              </li>
            ))}
          </ul>
        </section>
      ))}
    </Modal>
  );
}
