'use client';

import { App, Button, Input } from 'antd';
import Link from 'next/link';
import { useState } from 'react';
import type { ProjectCard } from '../../core/api';
import { api, fileUrl } from '../api/client';
import { grouped } from '../desk/quantity';
import { useTell } from '../state/useTell';
import styles from './shelf.module.css';

const changed = (iso: string) => new Date(iso).toLocaleString([], { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });

/** A project on the shelf. */
export function ProjectTile({ project, onChanged }: { project: ProjectCard; onChanged(): void }) {
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
      content: 'Its level, its rig with all earlier states and its baked light go with it. This cannot be undone.',
      okText: 'Delete',
      okButtonProps: { danger: true },
      icon: null,
      onOk: () => api.remove(project.id).then(onChanged, tell.fault),
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
        </span>
        <span className={styles.doings}>
          <Button type="text" size="small" onClick={() => setName(project.name)}>
            Rename
          </Button>
          <Button type="text" size="small" onClick={remove}>
            Delete
          </Button>
        </span>
      </div>
    </li>
  );
}
