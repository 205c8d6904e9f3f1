'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Button } from 'antd';
import { useRouter } from 'next/navigation';
import { useRef } from 'react';
import { api } from '../api/client';
import { DropVeil, IncomingCard } from '../intake/IncomingCard';
import { useLevelDrop } from '../intake/useLevelDrop';
import { ServerTrouble } from '../desk/ServerTrouble';
import { DeletedRow } from './DeletedRow';
import { IntakeRow } from './IntakeRow';
import { ProjectTile } from './ProjectTile';
import styles from './shelf.module.css';

/** The first page: all projects, and a place to drop a level. */
export function Shelf() {
  const router = useRouter();
  const client = useQueryClient();
  const chooser = useRef<HTMLInputElement>(null);
  const intakes = useQuery({ queryKey: ['intakes'], queryFn: api.intakes, refetchInterval: 2000 });
  const projects = useQuery({ queryKey: ['projects'], queryFn: api.projects, refetchInterval: intakes.data?.length ? 2000 : 10_000 });
  const deleted = useQuery({ queryKey: ['deleted'], queryFn: api.deleted });
  const occupied = useQuery({ queryKey: ['occupied'], queryFn: api.occupied, refetchInterval: 60_000 });
  const drop = useLevelDrop(null, (projectId) => router.push(`/projects/${projectId}`));
  const refresh = () => client.invalidateQueries();
  const known = projects.data ?? [];
  const gone = deleted.data ?? [];
  // What this page sends itself is shown by its own card.
  const others = (intakes.data ?? []).filter((i) => !drop.incoming || i.state === 'failed');

  return (
    <div className={styles.page}>
      <title>Basil</title>
      <ServerTrouble />
      <header className={styles.head}>
        <h1>Basil</h1>
        <p>Light for a game level, over the day</p>
      </header>
      <main className={styles.shelf}>
        <ul className={styles.tiles}>
          {known.map((project) => (
            <ProjectTile
              key={project.id}
              project={project}
              occupied={occupied.data?.find((o) => o.projectId === project.id) ?? null}
              onChanged={() => void refresh()}
            />
          ))}
          <li className={styles.drop}>
            {drop.incoming ? (
              <IncomingCard incoming={drop.incoming} onCancel={drop.cancel} />
            ) : (
              <>
                <p>
                  Drop a level here
                  <small>.glb, .gltf with its files or in a folder, or a .zip of them, in metres, up to 300 MB</small>
                </p>
                <Button onClick={() => chooser.current?.click()}>Choose a file</Button>
                <input
                  ref={chooser}
                  type="file"
                  multiple
                  accept=".glb,.gltf,.zip,.bin,.png,.jpg,.jpeg,.webp,model/gltf-binary,model/gltf+json"
                  hidden
                  aria-label="Level file"
                  onChange={(event) => {
                    drop.choose(event.target.files);
                    event.target.value = '';
                  }}
                />
              </>
            )}
          </li>
        </ul>
        {others.length > 0 && (
          <ul className={styles.intakes} aria-label="Levels on their way in">
            {others.map((intake) => (
              <IntakeRow key={intake.id} intake={intake} onChanged={() => void refresh()} />
            ))}
          </ul>
        )}
        {gone.length > 0 && (
          <section className={styles.gone}>
            <h2>Deleted</h2>
            <ul className={styles.intakes} aria-label="Deleted projects">
              {gone.map((project) => (
                <DeletedRow key={project.id} project={project} onChanged={() => void refresh()} />
              ))}
            </ul>
          </section>
        )}
      </main>
      {drop.over && <DropVeil text="Drop the level: it becomes a new project" />}
    </div>
  );
}
