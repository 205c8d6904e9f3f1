import { useQueryClient } from '@tanstack/react-query';
import { App, Button } from 'antd';
import type { KeptBake } from '../../core/api';
import { percent } from '../../core/units';
import { api } from '../api/client';
import { inBytes } from '../desk/quantity';
import { Section } from '../desk/Section';
import { Toggle } from '../desk/Toggle';
import { useStudio, useStudioStore } from '../state/context';
import { useTell } from '../state/useTell';
import { timeSpan } from './BakeProgress';
import { compareWith } from './compareBakes';
import { lookAt, useKeptBakes, useShown } from './shownBake';
import desk from '../desk/desk.module.css';
import styles from './bake.module.css';

const QUALITY: Readonly<Record<string, string>> = { rough: 'Rough', fair: 'Fair', fine: 'Fine' };

/** "Fair, 2.7 tx/m": how a bake was made. */
export const madeBy = ({ quality, isPartial, texelsPerM }: KeptBake): string =>
  `${quality ? QUALITY[quality] : 'Other settings'}${isPartial ? ' in part' : ''}, ${texelsPerM} tx/m`;

/** "30 Nov, 14:05": when a bake was asked for. */
export const askedAt = (bake: KeptBake): string =>
  new Date(bake.askedAt).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });

/** What a bake took, and what it knows of its noise. */
function about({ seconds, bytes, noise }: KeptBake): string {
  const left =
    noise && (noise.over > 0 ? `over ${percent(noise.allowed)} noise in ${percent(noise.over)}` : `noise within ${percent(noise.allowed)}`);
  return [seconds === null ? null : timeSpan(seconds), inBytes(bytes), left].filter(Boolean).join(' · ');
}

/** The bakes that are kept: each looked at in the picture, compared with the one that is shown, pinned, or deleted. */
export function KeptBakesSection({ newest }: { newest: string | null }) {
  const projectId = useStudio((s) => s.project.id);
  const store = useStudioStore();
  const { modal } = App.useApp();
  const client = useQueryClient();
  const tell = useTell();
  const { data } = useKeptBakes(projectId, newest);
  const lookedAt = useShown((s) => s.lookedAt);
  if (!data || data.bakes.length === 0) return null;
  const { bakes, most, room } = data;
  const shown = lookedAt?.id ?? newest;
  const shownBake = bakes.find((b) => b.id === shown);
  const again = () => Promise.all(['kept bakes', 'bakes'].map((key) => client.invalidateQueries({ queryKey: [key, projectId] })));
  const change = (act: Promise<unknown>) => void act.catch(tell.fault).then(again);
  const remove = (bake: KeptBake) =>
    modal.confirm({
      title: `Delete the bake of ${askedAt(bake)}?`,
      content: `${inBytes(bake.bytes)} are freed. Its light can only be had again by baking.`,
      okText: 'Delete',
      okButtonProps: { danger: true },
      onOk: async () => {
        if (bake.id === lookedAt?.id) lookAt(null);
        await api.deleteBake(bake.id).catch(tell.fault);
        await again();
      },
    });
  return (
    <Section title="Bakes" note={`${bakes.length}, ${inBytes(bakes.reduce((sum, b) => sum + b.bytes, 0))}`}>
      <ul className={styles.bakes} aria-label="Bakes that are kept">
        {bakes.map((bake) => (
          <li key={bake.id} data-shown={bake.id === shown}>
            <button
              type="button"
              aria-pressed={bake.id === shown}
              disabled={!bake.isOfLevel}
              title={bake.isOfLevel ? 'Light the picture by it' : 'It lights an earlier version of the level'}
              onClick={() => lookAt(bake.id === newest ? null : bake)}
            >
              <b>{madeBy(bake)}</b> {askedAt(bake)}
              {bake.id === newest && ', newest'}
              {!bake.isOfLevel && ', of an earlier level'}
              <span>{about(bake)}</span>
            </button>
            <Toggle
              on={bake.pinned}
              label={
                bake.pinned ? `Unpin the bake of ${askedAt(bake)}` : `Pin the bake of ${askedAt(bake)}: it is kept whatever comes after it`
              }
              mark="pin"
              onClick={() => change(api.orderBake(bake.id, { pinned: !bake.pinned }))}
            />
            {bakes.length > 1 && (
              <div className={styles.bakeActions}>
                <Button
                  size="small"
                  disabled={!bake.isOfLevel || bake.id === shown || !shownBake}
                  onClick={() => shownBake && compareWith(store, shownBake, bake, newest).catch(tell.fault)}
                >
                  Compare
                </Button>
                <Button size="small" type="text" aria-label={`Delete the bake of ${askedAt(bake)}`} onClick={() => remove(bake)}>
                  Delete
                </Button>
              </div>
            )}
          </li>
        ))}
      </ul>
      <p className={desk.text}>
        The newest {most} are kept within {inBytes(room)}, and all that are pinned.
      </p>
    </Section>
  );
}
