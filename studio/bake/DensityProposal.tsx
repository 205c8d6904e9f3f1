import { Button } from 'antd';
import type { Draft } from 'immer';
import { useEffect, useMemo, useState } from 'react';
import { allotTexels, needsUnder, type LevelNeeds } from '../../core/density';
import type { Rig } from '../../core/rig';
import type { GroundBox } from '../../core/units';
import { NumberRow } from '../desk/NumberRow';
import { grouped, logarithmic } from '../desk/quantity';
import { Section } from '../desk/Section';
import { SwitchRow } from '../desk/SwitchRow';
import { useObjectChoice } from '../objects/objectChoice';
import { useStudio } from '../state/context';
import { useRigEdit } from '../state/useRigEdit';
import { useListening } from '../viewport/mix/listening';
import { shareColor, useProposed } from '../viewport/proposedStore';
import { useView } from '../viewport/viewStore';
import { useLook } from './useLook';
import desk from '../desk/desk.module.css';
import styles from './bake.module.css';

const TEXELS = logarithmic('tx', 100, 1e8, { digits: 3 });
/** Share of the texels that there are which is proposed at first. */
const FIRST_SHARE = 0.6;
/** Objects that a project keeps densities of. */
const MOST_KEPT = 5000;
/** Room about chosen objects that people walk among, metres. */
const ABOUT_M = 1;

/** Densities that give texels to what people come near to and where light changes, within a budget. */
export function DensityProposal() {
  const { found, looking, saved, ask } = useLook();
  const texelsPerM = useStudio((s) => s.rig.bake.texelsPerM);
  const needs = found?.needs;
  const isOld = found !== null && found.bake.texelsPerM !== texelsPerM;
  return (
    <Section title="Texels where they count" note={!needs ? 'not looked yet' : isOld ? 'of another density' : ''}>
      {needs && needs.eyes > 0 && !isOld && (
        <Proposal needs={needs} bytesATexel={(found.estimate.storedMB * 1e6) / found.estimate.texels} />
      )}
      {needs?.eyes === 0 && (
        <p className={desk.text}>
          No floor was found {needs.box ? 'there ' : ''}that a person could walk on. Choose the objects that people walk among, and look
          there.
        </p>
      )}
      {!needs && (
        <p className={desk.text}>
          Finds how many texels each object needs, by how near people come to it and by where light changes. It needs no bake.
        </p>
      )}
      <WalkedOn box={needs?.box ?? null} isThere={needs !== undefined && !isOld} busy={looking} disabled={!saved} ask={ask} />
    </Section>
  );
}

/** Where people walk, and what looks again. */
function WalkedOn({
  box,
  isThere,
  busy,
  disabled,
  ask,
}: {
  box: GroundBox | null;
  isThere: boolean;
  busy: boolean;
  disabled: boolean;
  ask(box: GroundBox | null): void;
}) {
  const chosen = useObjectChoice((s) => s.chosen);
  const facts = useView((s) => s.facts);
  const about = boxAbout((facts?.() ?? []).filter((o) => chosen.has(o.name)));
  return (
    <div className={desk.actions}>
      {(!isThere || box) && (
        <Button size="small" loading={busy} disabled={disabled} onClick={() => ask(null)}>
          {isThere ? 'For all walkable floor' : 'Find what objects need'}
        </Button>
      )}
      {about && (
        <Button
          size="small"
          loading={busy}
          disabled={disabled}
          title="People walk on the floors about the chosen objects alone"
          onClick={() => ask(about)}
        >
          People walk among the chosen
        </Button>
      )}
    </div>
  );
}

/** The rectangle about objects, seen from above. */
function boxAbout(objects: readonly { min: readonly number[]; max: readonly number[] }[]): GroundBox | null {
  if (objects.length === 0) return null;
  const least = (axis: number) => Math.min(...objects.map((o) => o.min[axis]!)) - ABOUT_M;
  const most = (axis: number) => Math.max(...objects.map((o) => o.max[axis]!)) + ABOUT_M;
  return { min: [least(0), least(2)], max: [most(0), most(2)] };
}

function Proposal({ needs, bytesATexel }: { needs: LevelNeeds; bytesATexel: number }) {
  const { densities, texelsPerM } = useStudio((s) => s.rig.bake);
  const edit = useRigEdit();
  const now = useMemo(() => needsUnder(needs.objects, densities), [needs, densities]);
  const texels = now.reduce((sum, n) => sum + n.texels, 0);
  const first = useMemo(() => needs.objects.reduce((sum, n) => sum + n.texels, 0) * FIRST_SHARE, [needs]);
  const [budget, setBudget] = useState<number | null>(null);
  const wanted = budget ?? first;
  const proposal = useMemo(() => allotTexels(now, wanted), [now, wanted]);
  const isShown = useListening((s) => s.view === 'proposed');
  useEffect(() => {
    useProposed.setState({ shares: new Map([...proposal.perM].map(([name, perM]) => [name, perM / texelsPerM])) });
  }, [proposal, texelsPerM]);
  useEffect(
    () => () => {
      if (useListening.getState().view === 'proposed') useListening.setState({ view: 'picture' });
    },
    [],
  );
  const changed = now.filter((n) => n.factor > 0 && proposal.factors.get(n.name) !== n.factor);
  const tooMany = new Set([...Object.keys(densities), ...changed.map((n) => n.name)]).size > MOST_KEPT;
  const savedMB = ((texels - proposal.texels) * bytesATexel) / 1e6;
  const take = () =>
    edit(`Texel densities of ${grouped(changed.length)} objects`, ({ bake }: Draft<Rig>) => {
      for (const { name } of changed) bake.densities[name] = proposal.factors.get(name)!;
    });

  return (
    <>
      <NumberRow
        label="Texels"
        value={wanted}
        preset={first}
        quantity={TEXELS}
        hint="Texels of all objects together, before the room between charts"
        onChange={setBudget}
      />
      <dl className={desk.facts}>
        <dt>Walked on</dt>
        <dd>
          {needs.box ? 'floor about the chosen' : 'all walkable floor'}, {grouped(needs.eyes)} places
        </dd>
        <dt>Texels</dt>
        <dd>
          {grouped(proposal.texels)} of {grouped(texels)} now
        </dd>
        <dt>{savedMB < 0 ? 'More stored' : 'Saved'}</dt>
        <dd>
          {grouped(Math.abs(savedMB), 1)} MB, {Math.round(Math.abs(1 - proposal.texels / texels) * 100)} %
        </dd>
        <dt>Objects</dt>
        <dd>
          {grouped(proposal.finer)} finer, {grouped(proposal.coarser)} coarser, {grouped(proposal.unseen)} seen from nowhere
        </dd>
      </dl>
      <SwitchRow label="Show in the picture" on={isShown} onChange={(on) => useListening.setState({ view: on ? 'proposed' : 'picture' })} />
      {isShown && <Legend />}
      {tooMany && <p className={desk.fault}>Densities are kept of {grouped(MOST_KEPT)} objects at the most.</p>}
      <div className={desk.actions}>
        <Button size="small" type="primary" disabled={changed.length === 0 || tooMany} onClick={take}>
          {changed.length === 0 ? 'These are the densities' : 'Take these densities'}
        </Button>
      </div>
    </>
  );
}

const LEGEND = [
  [1 / 8, '1/8'],
  [1 / 4, '1/4'],
  [1 / 2, '1/2'],
  [1, '1'],
  [2, '2'],
  [4, '4'],
] as const;

/** Which colour stands for which share of the level's density. */
function Legend() {
  return (
    <div
      className={styles.factors}
      role="img"
      aria-label="Colours of proposed densities beside the level’s own, from an eighth to four times"
    >
      {LEGEND.map(([share, label]) => (
        <span key={label}>
          <i style={{ background: `#${shareColor(share).toString(16).padStart(6, '0')}` }} />× {label}
        </span>
      ))}
    </div>
  );
}
