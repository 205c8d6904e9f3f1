'use client';

import { App, Button, Input } from 'antd';
import Link from 'next/link';
import { useState } from 'react';
import type { Occupied, ProjectCard } from '../../core/api';
import { api, fileUrl } from '../api/client';
import { grouped, inBytes } from '../desk/quantity';
import { useTell } from '../state/useTell';
import styles from './shelf.module.css';

const changed = (iso: string) => new Date(iso).toLocaleString([], { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });

/** Least that can be freed before tidying is worth a word, bytes. */
const WORTH_TIDYING = 1e6;

const whole = ({ level, bakes, images, history }: Occupied) => level + bakes + images + history;
const parts = ({ level, bakes, images, history }: Occupied) =>
  `Level ${inBytes(level)}, bakes ${inBytes(bakes)}, images ${inBytes(images)}, history ${inBytes(history)}`;

/** A project on the shelf. */
export function ProjectTile({ project, occupied, onChanged }: { project: ProjectCard; occupied: Occupied | null; onChanged(): void }) {
  const tell = useTell();
  const { modal } = App.useApp();
  const [name, setName] = useState<string | null>(null);

  const rename = () => {
    const next = name?.trim();
    setName(null);
    if (next && next !== project.name) api.rename(project.id, next).then(onChanged, tell.fault);
  };
  const remove = () =>
    modal.confirm({
      title: `Delete ${project.name}?`,
      content: 'It can be restored for a week: deleted projects are listed at the end of this page.',
      okText: 'Delete',
      icon: null,
      onOk: () => api.remove(project.id).then(onChanged, tell.fault),
    });

  const tidy = () =>
    modal.confirm({
      title: `Tidy ${project.name}?`,
      content: `Its earlier levels and bakes go, and free ${inBytes(occupied?.spare ?? 0)}. The level, the bake and the rig that are shown stay. This cannot be undone.`,
      okText: 'Tidy',
      icon: null,
      onOk: () => api.tidy(project.id).then(onChanged, tell.fault),
    });

  return (
    <li className={styles.tile}>
      <Link href={`/projects/${project.id}`} className={styles.picture} aria-label={`Open ${project.name}`}>
        {/* Stored pictures are made at the size they are shown in. */}
        {project.pictureHash ? (
          <img src={fileUrl(project.pictureHash, 'picture')} alt="" width={352} height={220} />
        ) : (
          <span>no picture yet</span>
        )}
      </Link>
      <div className={styles.about}>
        {name === null ? (
          <b>{project.name}</b>
        ) : (
          <Input
            size="small"
            autoFocus
            value={name}
            aria-label="Name of the project"
            onChange={(e) => setName(e.target.value)}
            onBlur={rename}
            onPressEnter={rename}
          />
        )}
        <span>
          {grouped(project.triangles)} triangles · {project.cues} {project.cues === 1 ? 'cue' : 'cues'} · {changed(project.changedAt)}
          {occupied && (
            <>
              {' · '}
              <span title={parts(occupied)}>{inBytes(whole(occupied))}</span>
            </>
          )}
        </span>
        <span className={styles.doings}>
          <Button type="text" size="small" onClick={() => setName(project.name)}>
            Rename
          </Button>
          {occupied && occupied.spare >= WORTH_TIDYING && (
            <Button type="text" size="small" onClick={tidy} title={`Frees ${inBytes(occupied.spare)} of earlier levels and bakes`}>
              Tidy
            </Button>
          )}
          <Button type="text" size="small" onClick={remove}>
            Delete
          </Button>
        </span>
      </div>
    </li>
  );
}
