import { App, Button } from 'antd';
import { DELETED_KEPT_DAYS, type ProjectCard } from '../../core/api';
import { api } from '../api/client';
import { useTell } from '../state/useTell';

const DAY_MS = 86_400_000;

/** How long a project can still be taken back, in words. */
function left(deletedAt: string): string {
  const days = Math.ceil(DELETED_KEPT_DAYS - (Date.now() - Date.parse(deletedAt)) / DAY_MS);
  return days <= 1 ? 'for less than a day' : `for ${days} days`;
}

/** A project that was deleted and can still be restored. */
export function DeletedRow({ project, onChanged }: { project: ProjectCard; onChanged(): void }) {
  const tell = useTell();
  const { modal } = App.useApp();
  const erase = () =>
    modal.confirm({
      title: `Delete ${project.name} for good?`,
      content: 'Its level, its rig with all earlier states and its baked light go with it. This cannot be undone.',
      okText: 'Delete for good',
      okButtonProps: { danger: true },
      icon: null,
      onOk: () => api.erase(project.id).then(onChanged, tell.fault),
    });
  return (
    <li>
      <b>{project.name}</b>
      <span>can be restored {left(project.deletedAt!)}</span>
      <Button size="small" onClick={() => void api.takeBack(project.id).then(onChanged, tell.fault)}>
        Restore
      </Button>
      <Button size="small" type="text" onClick={erase}>
        Delete for good
      </Button>
    </li>
  );
}
